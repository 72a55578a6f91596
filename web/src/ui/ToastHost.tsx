import { closeSnackbar, enqueueSnackbar, SnackbarProvider } from 'notistack'
import { useEffect } from 'react'
import { takeToasts, type Toast } from './toast-queue.ts'

/** Draws the toasts that wait, each time it is woken. */
export default function ToastHost({ woken }: { woken: number }) {
  useEffect(() => {
    if (woken) for (const toast of takeToasts()) draw(toast)
  }, [woken])
  return <SnackbarProvider maxSnack={3} anchorOrigin={{ vertical: 'bottom', horizontal: 'center' }} />
}

function draw({ words, wrong, forMs, action }: Toast): void {
  enqueueSnackbar(words, {
    autoHideDuration: forMs,
    ...(wrong ? { variant: 'error' } : {}),
    ...(action
      ? {
          action: key => (
            <button
              type="button"
              className="link"
              style={{ color: 'inherit', textDecoration: 'underline', padding: '0 8px' }}
              onClick={() => {
                closeSnackbar(key)
                action.run()
              }}
            >
              {action.label}
            </button>
          ),
        }
      : {}),
  })
}
