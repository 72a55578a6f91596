import type { OldBy } from '@dew-trail/contract/endpoint'
import { type Job, listJobs, type SiteEvent } from '@dew-trail/contract/jobs'
import { useQueryClient } from '@tanstack/react-query'
import { useEffect, useRef } from 'react'
import { hearEvents } from './hear-events.ts'
import { keyOf } from './use-endpoint.ts'

/** Listens to what changes in a site and refreshes what is shown of it. `onKeywords` is told when keyword rows changed, and after every reconnection. */
export function useSiteEvents(siteId: number, onKeywords: () => void): void {
  const client = useQueryClient()
  const handler = useRef(onKeywords)
  handler.current = onKeywords
  useEffect(() => {
    const askAgainBy = (isOld: (oldBy: readonly OldBy[]) => boolean): void => {
      void client.invalidateQueries({
        predicate: ({ meta, queryKey }) =>
          isOld((meta?.oldBy as readonly OldBy[] | undefined) ?? []) &&
          ((queryKey[1] as { siteId?: number } | undefined)?.siteId ?? siteId) === siteId,
      })
    }
    const onOpen = (): void => {
      askAgainBy(oldBy => oldBy.length > 0)
      handler.current()
    }
    const onEvent = (event: SiteEvent): void => {
      if (event.type !== 'job') {
        if (event.type === 'keywords') handler.current()
        askAgainBy(oldBy => oldBy.includes(event.type))
        return
      }
      const { job } = event
      client.setQueryData<Job[]>(keyOf(listJobs, { siteId }), jobs => [
        job,
        ...(jobs ?? []).filter(each => each.id !== job.id),
      ])
      if (job.endedAt) askAgainBy(oldBy => oldBy.includes('job') || (job.kind === 'learn' && oldBy.includes('learn')))
    }
    return hearEvents(siteId, message => (message === 'open' ? onOpen() : onEvent(message.event)))
  }, [siteId, client])
}
