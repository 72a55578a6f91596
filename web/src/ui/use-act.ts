import { undoAct } from '@dew-trail/contract/acts'
import { useSnackbar } from 'notistack'
import { createElement, useCallback, useContext } from 'react'
import { call } from '../api/call.ts'
import { siteContext } from './site-context.ts'

export type Said = {
  say?: string
  /** The act that the server noted: undo is beside the words, and in the list of what was done. */
  actId?: number | null
  /** What follows an undo, such as selecting the same rows again. */
  onUndone?: () => void
  /** How to take back what belongs to no site and so is no act. */
  undo?: () => Promise<unknown>
}
export type Act = (work: () => Promise<Said | void>) => Promise<void>

/** Runs an action and says what came of it, with undo beside the words. Errors are said in the server's words. */
export function useAct(): Act {
  const { enqueueSnackbar, closeSnackbar } = useSnackbar()
  const siteId = useContext(siteContext)?.site.id
  return useCallback(
    async work => {
      const fail = (error: unknown): void => {
        enqueueSnackbar((error as Error).message, { variant: 'error', autoHideDuration: 9_000 })
      }
      try {
        const done = await work()
        if (!done?.say) return
        const { actId } = done
        const undo = actId && siteId !== undefined ? () => call(undoAct, { siteId, actId }) : done.undo
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
                        undo().then(done.onUndone, fail)
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
    [enqueueSnackbar, closeSnackbar, siteId],
  )
}
