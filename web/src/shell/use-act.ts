import { useSnackbar } from 'notistack'
import { createElement, useCallback } from 'react'

/** Runs an action and says what came of it; `undo` puts a button beside the words. Errors are said in the server's words. */
export function useAct(): (
  work: () => Promise<{ say?: string; undo?: () => Promise<unknown> } | void>,
) => Promise<void> {
  const { enqueueSnackbar, closeSnackbar } = useSnackbar()
  return useCallback(
    async work => {
      const fail = (error: unknown): void => {
        enqueueSnackbar((error as Error).message, { variant: 'error', autoHideDuration: 9_000 })
      }
      try {
        const done = await work()
        if (!done?.say) return
        const { undo } = done
        enqueueSnackbar(done.say, {
          autoHideDuration: undo ? 8_000 : 4_000,
          ...(undo
            ? {
                action: key =>
                  createElement(
                    'button',
                    {
                      type: 'button',
                      className: 'link',
                      style: { color: 'inherit', textDecoration: 'underline', padding: '0 8px' },
                      onClick: () => {
                        closeSnackbar(key)
                        undo().catch(fail)
                      },
                    },
                    'Undo',
                  ),
              }
            : {}),
        })
      } catch (error) {
        fail(error)
      }
    },
    [enqueueSnackbar, closeSnackbar],
  )
}
