import { createContext, type ReactNode, Suspense, useCallback, useContext, useState } from 'react'

type Dialog = (close: () => void) => ReactNode
const hostContext = createContext<(dialog: Dialog) => void>(() => {
  throw new Error('A dialog was opened outside of DialogHost')
})

/** Shows a dialog that an action opens; at most one at a time. */
export const useShowDialog = (): ((dialog: Dialog) => void) => useContext(hostContext)

export function DialogHost({ children }: { children: ReactNode }) {
  const [open, setOpen] = useState<{ dialog: Dialog } | null>(null)
  const show = useCallback((dialog: Dialog) => setOpen({ dialog }), [])
  return (
    <hostContext.Provider value={show}>
      {children}
      {open && <Suspense fallback={null}>{open.dialog(() => setOpen(null))}</Suspense>}
    </hostContext.Provider>
  )
}
