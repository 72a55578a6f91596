import { undoAct } from '@dew-trail/contract/acts'
import { useMutation } from '@tanstack/react-query'
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
type Work = () => Promise<ActOutcome | void>
export type Act = (work: Work) => Promise<void>

/**
 * `act` runs an action and says what came of it, with undo beside the words; errors are said in the server's words. `pending`: one that
 * was begun here is under way.
 */
export function useActing(): { act: Act; pending: boolean } {
  const siteId = useContext(siteContext)?.site.id
  const { mutateAsync, isPending } = useMutation({ mutationFn: (running: ReturnType<Work>) => running })
  const act: Act = useCallback(
    async work => {
      try {
        // Begun at once: an event's field is set back to what the server knows as soon as the screen is drawn anew.
        const done = await mutateAsync(work())
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
    [siteId, mutateAsync],
  )
  return { act, pending: isPending }
}

/** `act` of useActing, where nothing is shown while it is under way but what the whole window says. */
export const useAct = (): Act => useActing().act

function fail(error: unknown): void {
  showToast({ words: (error as Error).message, wrong: true, forMs: 9_000 })
}
