import { undoAct } from '@dew-trail/contract/acts'
import { useCallback, useContext } from 'react'
import { call } from '../api/call.ts'
import { siteContext } from './site-context.ts'
import { showToast } from './toast-queue.ts'

export type ActOutcome = {
  say?: string
  /** The act that the server noted: undo is beside the words, and in the list of what was done. */
  actId?: number | null
  /** What follows an undo, such as selecting the same rows again. */
  onUndone?: () => void
  /** How to take back what belongs to no site and so is no act. */
  undo?: () => Promise<unknown>
}
export type Act = (work: () => Promise<ActOutcome | void>) => Promise<void>

/** Runs an action and says what came of it, with undo beside the words. Errors are said in the server's words. */
export function useAct(): Act {
  const siteId = useContext(siteContext)?.site.id
  return useCallback(
    async work => {
      try {
        const done = await work()
        if (!done?.say) return
        const { actId } = done
        const undo = actId && siteId !== undefined ? () => call(undoAct, { siteId, actId }) : done.undo
        showToast({
          words: done.say,
          forMs: undo ? 8_000 : 4_000,
          ...(undo ? { action: { label: 'Undo', run: () => void undo().then(done.onUndone, fail) } } : {}),
        })
      } catch (error) {
        fail(error)
      }
    },
    [siteId],
  )
}

function fail(error: unknown): void {
  showToast({ words: (error as Error).message, wrong: true, forMs: 9_000 })
}
