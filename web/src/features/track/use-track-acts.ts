import { checkNow, trackKeywords } from '@dew-trail/contract/track'
import { useCallback, useState } from 'react'
import { call } from '../../api/call.ts'
import { plural } from '../../ui/format.ts'
import { useJobs } from '../../ui/JobLine.tsx'
import type { Taken } from '../../keywords/keyword-actions.ts'
import { useSite } from '../../ui/site-context.ts'
import { useAct } from '../../ui/use-act.ts'

/** What can be done with tracked keywords. `asking`: a check was requested just now; `checking`: one is under way. */
export function useTrackActs() {
  const { site } = useSite()
  const act = useAct()
  const { jobs } = useJobs()
  const checking = jobs.some(job => job.kind === 'check' && job.endedAt === null)
  const [asking, setAsking] = useState(false)
  const check = useCallback(
    async (keywordIds?: number[]) => {
      setAsking(true)
      await act(async () => {
        const { requests } = await call(checkNow, { siteId: site.id, ...(keywordIds ? { keywordIds } : {}) })
        return { say: `Asking the engines ${plural(requests, 'time')}` }
      })
      setAsking(false)
    },
    [act, site.id],
  )
  const stop = useCallback(
    ({ ids, leftOut, restore }: Taken) =>
      act(async () => {
        const { changed, actId } = await call(trackKeywords, { siteId: site.id, keywordIds: ids, tracked: false })
        const left = leftOut ? `; ${plural(leftOut, 'selected row')} that conditions hide left out` : ''
        return {
          say: `${plural(changed.length, 'keyword')} no longer tracked; the history stays${left}`,
          actId,
          onUndone: restore,
        }
      }),
    [act, site.id],
  )
  return { asking, checking, check, stop }
}
