import { useIsMutating } from '@tanstack/react-query'
import { useEffect, useState } from 'react'

/** Most changes are over sooner; words that flash up and go would only disturb. */
const shownAfterMs = 700

/** Says at the foot of the window that a change is under way, once it takes long enough to be wondered about. */
export function Saving() {
  const isSaving = useIsMutating() > 0
  const [isLong, setIsLong] = useState(false)
  useEffect(() => {
    if (!isSaving) return
    const timer = setTimeout(() => setIsLong(true), shownAfterMs)
    return () => {
      clearTimeout(timer)
      setIsLong(false)
    }
  }, [isSaving])
  return (
    <p className="saving" role="status">
      {isSaving && isLong ? 'Saving…' : ''}
    </p>
  )
}
