import { askFigures, keepKeywords, startGathering } from '@dew-trail/contract/gather'
import { trackKeywords } from '@dew-trail/contract/track'
import { startWeighing } from '@dew-trail/contract/weigh'
import { useMemo } from 'react'
import { call } from '../api/call.ts'
import { plural } from '../format.ts'
import { useSite } from '../shell/site-context.ts'
import { useAct } from '../shell/use-act.ts'

/** What can be done with keywords from any table of them. Everything that takes something away can be undone. */
export function useKeywordActions() {
  const { site, market, keywords } = useSite()
  const act = useAct()
  return useMemo(() => {
    const siteId = site.id
    const keep = (ids: number[], kept: boolean) =>
      act(async () => {
        const { changed } = await call(keepKeywords, { siteId, keywordIds: ids, kept })
        if (!changed.length || (ids.length === 1 && kept)) return
        return {
          say: `${plural(changed.length, 'keyword')} ${kept ? 'kept' : 'let go'}`,
          undo: () => call(keepKeywords, { siteId, keywordIds: changed, kept: !kept }),
        }
      })
    const weigh = (ids: number[] | undefined, again = false) =>
      act(async () => {
        const { jobId, count, fresh } = await call(startWeighing, {
          siteId,
          marketId: market.id,
          again,
          ...(ids ? { keywordIds: ids } : {}),
        })
        if (jobId === null)
          return fresh
            ? { say: `${plural(fresh, 'keyword')} ${fresh === 1 ? 'was' : 'were'} weighed in the last 14 days` }
            : { say: 'Nothing is kept yet, so there is nothing to weigh' }
        return {
          say: `Weighing ${plural(count, 'keyword')}${fresh ? `; ${fresh} weighed in the last 14 days left as they are` : ''}`,
        }
      })
    const track = (ids: number[], tracked = true) =>
      act(async () => {
        const { changed } = await call(trackKeywords, { siteId, keywordIds: ids, tracked })
        return changed.length
          ? {
              say: `${plural(changed.length, 'keyword')} ${tracked ? 'sent to tracking' : 'no longer tracked'}`,
              undo: () => call(trackKeywords, { siteId, keywordIds: changed, tracked: !tracked }),
            }
          : { say: tracked ? 'Already tracked' : 'Not tracked' }
      })
    const gatherFrom = (ids: number[], parentId?: number) =>
      act(async () => {
        const rows = await keywords.rows(ids.slice(0, 50))
        await call(startGathering, {
          siteId,
          marketId: market.id,
          seeds: rows.map(row => String(row.phrase)),
          ...(parentId ? { parentId } : {}),
        })
        return {
          say: `Gathering from ${rows.length === 1 ? `"${String(rows[0]!.phrase)}"` : plural(rows.length, 'keyword')}`,
        }
      })
    const figures = (ids: number[]) =>
      act(async () => {
        await call(askFigures, { siteId, marketId: market.id, keywordIds: ids })
        return { say: `Asking the ads data about ${plural(ids.length, 'keyword')}` }
      })
    return { keep, weigh, track, gatherFrom, figures }
  }, [site.id, market.id, keywords, act])
}
