import PQueue from 'p-queue'
import type { Context } from '../../context.ts'
import type { JobControl } from '../../platform/jobs/job-control.ts'
import { keepLatestPositions } from '../../domain/positions/keep-latest-positions.ts'
import { analyzeResults } from '../../domain/results/queries.ts'
import { needMarket, needSite } from '../../domain/sites/need-market.ts'
import { siteFactsOnce } from '../../domain/chances/fetch-facts.ts'
import { takeFirstScale } from './scale-job.ts'
import { askForLearning } from './ask-for-learning.ts'
import { rescoreWhereFactsAreNew } from './rescore.ts'
import { modelFor } from '../../domain/chances/model-for.ts'
import { manyToWeigh } from '../../domain/chances/queries.ts'
import { weighKeyword } from './weigh-keyword.ts'

const atOnce = 8

/** Weighs keywords, those of most value first. What was weighed since the job was made is done, so a job that was stopped goes on where it was. */
export async function weighJob(context: Context, control: JobControl): Promise<object> {
  const { siteId } = control
  const { payload, createdAt } = control.job
  const site = await needSite(context.pool, siteId)
  const market = await needMarket(context.pool, siteId, Number(payload.marketId))
  const model = await modelFor(context.pool, siteId, market)
  const keywords = await manyToWeigh(
    context.pool,
    siteId,
    market.id,
    market.place,
    payload.keywordIds as number[],
    createdAt,
  )
  const waiting = keywords.filter(keyword => !keyword.fresh)
  control.clearWarnings()
  let done = keywords.length - waiting.length
  await control.step(done, keywords.length)

  const siteFacts = siteFactsOnce(context, control.signal)
  const queue = new PQueue({ concurrency: atOnce })
  let halted: unknown
  for (const keyword of waiting) {
    void queue.add(async () => {
      if (halted) return
      try {
        const failures = await weighKeyword(context, site, market, keyword, model, siteFacts, control.signal)
        for (const message of new Set(failures.map(failure => failure.message))) control.warn(message)
        const quota = failures.find(failure => failure.kind === 'quotaUsed')
        if (quota) throw quota
        await control.step(++done, keywords.length)
      } catch (error) {
        halted ??= error
        queue.clear()
      }
    })
  }
  await queue.onIdle()
  await keepLatestPositions(
    context,
    site,
    market,
    waiting.map(keyword => keyword.id),
  )
  if (halted) throw halted
  await analyzeResults(context.pool)
  await rescoreWhereFactsAreNew(context, site, market, createdAt, control.signal)
  const moved = await takeFirstScale(context, site, market, control.signal)
  await askForLearning(context, siteId, market)
  return { weighed: waiting.length, ...moved }
}
