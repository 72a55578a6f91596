import type { Job } from '@dew-trail/contract/jobs'
import type { Market } from '@dew-trail/contract/sites'
import { pagesToLearn } from '@dew-trail/core/results/learn-strength'
import type { Context } from '../../context.ts'
import { hasWaitingJob } from '../../platform/jobs/queries.ts'
import { oneLearnState } from '../../domain/chances/learn-queries.ts'

/** Weighings that make it worth asking an engine for deep result pages the first time, and again. */
const firstWeighings = 30
const newWeighings = 500

/** Has strengths learnt when enough result pages arrived since the last time, if there are keywords enough to learn from. */
export async function askForLearning(context: Context, siteId: number, market: Market): Promise<void> {
  const { since, keywords, fittedAt } = await oneLearnState(context.pool, siteId, market)
  if (keywords < pagesToLearn || since < (fittedAt ? newWeighings : firstWeighings)) return
  if (await hasWaitingJob(context.pool, 'learn')) return
  await startLearning(context, siteId, market)
}

export const startLearning = (context: Context, siteId: number, market: Market): Promise<Job> =>
  context.jobs.add(siteId, 'learn', `Learning what ranks on ${market.engine}, ${market.device}`, {
    marketId: market.id,
  })
