import { freshDays } from '@dew-trail/contract/weigh'
import type { Context } from '../../context.ts'
import { manySites } from '../../domain/sites/queries.ts'
import { manyOldWeighings } from '../../domain/chances/queries.ts'

/** Has kept keywords weighed again whose weighing is old, for the sites that want it, a job for each market that has any. Gives how many keywords. */
export async function refreshOldWeighings(context: Context, now = new Date()): Promise<number> {
  const before = new Date(now.getTime() - freshDays * 86_400_000)
  let count = 0
  for (const site of await manySites(context.pool)) {
    if (!site.refreshWeighings) continue
    for (const market of site.markets) {
      if (market.paused) continue
      const keywordIds = await manyOldWeighings(context.pool, site.id, market.id, before)
      if (!keywordIds.length) continue
      count += keywordIds.length
      await context.jobs.add(site.id, 'weigh', `Weighing ${keywordIds.length.toLocaleString('en')} keywords again`, {
        marketId: market.id,
        keywordIds,
      })
    }
  }
  return count
}
