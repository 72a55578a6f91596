import type { OldBy } from '@dew-trail/contract/endpoint'
import type { Job, SiteEvent } from '@dew-trail/contract/jobs'
import { useQueryClient } from '@tanstack/react-query'
import { useEffect, useRef } from 'react'
import { hearEvents } from './hear-events.ts'

/** Listens to what changes in a site and refreshes what is shown of it. `onKeywords` is told when keyword rows changed, and after every reconnection. */
export function useSiteEvents(siteId: number, onKeywords: () => void): void {
  const client = useQueryClient()
  const told = useRef(onKeywords)
  told.current = onKeywords
  useEffect(() => {
    const refresh = (...keys: string[]): void => {
      for (const key of keys) void client.invalidateQueries({ queryKey: [key, siteId] })
    }
    const askAgainBy = (site: number, isOld: (oldBy: readonly OldBy[]) => boolean): void => {
      void client.invalidateQueries({
        predicate: ({ meta, queryKey }) =>
          isOld((meta?.oldBy as readonly OldBy[] | undefined) ?? []) &&
          ((queryKey[1] as { siteId?: number } | undefined)?.siteId ?? site) === site,
      })
    }
    const onOpen = (): void => {
      refresh('jobs', 'gatherings', 'trail', 'pages', 'positions', 'crawls', 'linkState')
      askAgainBy(siteId, oldBy => oldBy.length > 0)
      told.current()
    }
    const onEvent = (event: SiteEvent): void => {
      if (event.type !== 'job') askAgainBy(siteId, oldBy => oldBy.includes(event.type))
      else if (event.job.endedAt)
        askAgainBy(siteId, oldBy => oldBy.includes('job') || (event.job.kind === 'learn' && oldBy.includes('learn')))
      if (event.type === 'job') {
        client.setQueryData<Job[]>(['jobs', siteId], jobs => [
          event.job,
          ...(jobs ?? []).filter(job => job.id !== event.job.id),
        ])
        if (event.job.endedAt) refresh('gatherings', 'trail', 'imports', 'sources')
        // Levels of the site come from the strengths.
        if (event.job.endedAt && event.job.kind === 'learn') {
          refresh('strengths', 'firstPage')
          void client.invalidateQueries({ queryKey: ['sites'] })
        }
        return
      }
      if (event.type === 'keywords') {
        told.current()
        refresh('trail', 'firstPage', 'pages')
      }
      if (event.type === 'gatherings') refresh('gatherings')
      if (event.type === 'crawls') refresh('crawls', 'crawlSuggestions', 'linkState', 'standings')
      if (event.type === 'plan') refresh('pages', 'trail')
      if (event.type === 'positions') refresh('positions', 'visibility', 'history', 'trail')
    }
    return hearEvents(siteId, message => (message === 'open' ? onOpen() : onEvent(message.event)))
  }, [siteId, client])
}
