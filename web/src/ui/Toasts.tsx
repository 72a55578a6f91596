import { useEffect, useState } from 'react'
import { later } from './later.tsx'
import { onToast } from './toast-queue.ts'

const ToastHost = later(
  () => import('./ToastHost.tsx'),
  module => module.default,
)

/** Where toasts are drawn; one in a window. */
export function Toasts() {
  const [woken, setWoken] = useState(0)
  useEffect(() => {
    onToast(() => setWoken(before => before + 1))
    return () => onToast(null)
  }, [])
  return woken ? <ToastHost woken={woken} /> : null
}
