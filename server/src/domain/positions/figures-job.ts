import type { Market } from '@dew-trail/contract/sites'
import type { Job } from '@dew-trail/contract/jobs'
import type { Context } from '../../context.ts'
import type { JobControl } from '../../platform/jobs/job-control.ts'
import { needMarket } from '../sites/need-market.ts'
import { recomputeVisibility } from './save-positions.ts'
import { askDemand, figuresAtATime } from '../keywords/ask-demand.ts'
import { settleMatches } from '../keywords/match-totals.ts'
import { manyNeverAsked, manyPhrases } from '../keywords/queries.ts'

/** Asks the ads data for figures of keywords, batch by batch; visibility is worked out again, since it weighs by searches. */
export async function figuresJob(context: Context, control: JobControl): Promise<object> {
  const { siteId } = control
  const { payload } = control.job
  const market = await needMarket(context.pool, siteId, Number(payload.marketId))
  const keywords = await manyPhrases(context.pool, siteId, market.language, payload.keywordIds as number[])
  control.clearWarnings()
  let done = Number(control.progress.done ?? 0)
  for (; done < keywords.length; done += figuresAtATime) {
    await control.step(done, keywords.length)
    const failure = await askDemand(
      context,
      siteId,
      market,
      keywords.slice(done, done + figuresAtATime),
      control.signal,
    )
    if (failure) control.warn(failure.message)
    if (failure?.kind === 'quotaUsed') throw failure
    control.progress.done = done + figuresAtATime
  }
  // A second try asks for all of them again.
  control.progress.done = 0
  await recomputeVisibility(context, siteId, market.place)
  await settleMatches(context, siteId, market)
  await control.step(keywords.length, keywords.length)
  return { requested: keywords.length }
}

/** Starts asking for keywords nobody has asked about yet in the market's place; `null` when there are none. */
export async function askForNew(
  context: Context,
  siteId: number,
  market: Market,
  keywordIds: number[],
): Promise<Job | null> {
  const fresh = await manyNeverAsked(context.pool, siteId, market.place, market.language, keywordIds)
  return fresh.length ? startFigures(context, siteId, market.id, fresh) : null
}

export function startFigures(context: Context, siteId: number, marketId: number, keywordIds: number[]): Promise<Job> {
  return context.jobs.add(
    siteId,
    'figures',
    `Asking for figures of ${keywordIds.length.toLocaleString('en')} ${keywordIds.length === 1 ? 'keyword' : 'keywords'}`,
    { marketId, keywordIds },
  )
}
