import { AppError } from '@dew-trail/contract/errors'
import type { Context } from '../../context.ts'
import { needSite } from '../../domain/sites/need-market.ts'
import { isCheckedIn, manyToCheck } from '../../domain/positions/slot-queries.ts'

/**
 * Makes a job that checks positions: of the given keywords or of all that are tracked, in one market or in all of their language. Gives the
 * job and the requests that it costs; throws `badInput` when nothing is tracked.
 */
export async function startCheck(
  context: Context,
  siteId: number,
  {
    keywordIds,
    marketId,
    scheduled,
  }: { keywordIds?: number[] | undefined; marketId?: number; scheduled?: { late: boolean } },
): Promise<{ jobId: number; requests: number }> {
  const site = await needSite(context.pool, siteId)
  const keywords = await manyToCheck(context.pool, siteId, keywordIds ?? null)
  const requests = site.markets
    .filter(market => (marketId === undefined ? !market.paused : market.id === marketId))
    .reduce((sum, market) => sum + keywords.filter(keyword => isCheckedIn(keyword, market)).length, 0)
  if (!requests) throw new AppError('badInput', 'No keyword is tracked yet. Send some from Gather or Plan first.')
  const { engine, device } = site.markets.find(market => market.id === marketId) ?? {}
  const job = await context.jobs.add(
    siteId,
    'check',
    `Checking ${keywords.length.toLocaleString('en')} ${keywords.length === 1 ? 'keyword' : 'keywords'}${engine ? ` on ${engine}, ${device}` : ''}${scheduled ? ' (by its schedule)' : ''}`,
    {
      ...(keywordIds ? { keywordIds } : {}),
      ...(marketId ? { marketId } : {}),
      ...(scheduled ? { scheduled: true, late: scheduled.late } : {}),
    },
  )
  return { jobId: job.id, requests }
}
