import {
  freshDays,
  getFirstPage,
  getStrengths,
  learnStrengths,
  putPageBeside,
  readFirstPages,
  readPredictions,
  startWeighing,
  takeMarketScale,
} from '@dew-trail/contract/weigh'
import type { Router } from 'express'
import PQueue from 'p-queue'
import type { Context } from '../../context.ts'
import { mount } from '../../platform/http/mount.ts'
import { needMarket } from '../../domain/sites/need-market.ts'
import { startLearning } from './ask-for-learning.ts'
import { describeStrengths } from './describe-strengths.ts'
import { manyToWeigh } from '../../domain/chances/queries.ts'
import { readBeside } from './read-beside.ts'
import { readFirstPage } from './read-first-page.ts'
import { readPredictionsOf } from './read-predictions.ts'

const freshMs = freshDays * 86_400_000

export function mountWeigh(router: Router, context: Context): void {
  mount(router, startWeighing, async ({ siteId, marketId, keywordIds, again }) => {
    const market = await needMarket(context.pool, siteId, marketId)
    const all = await manyToWeigh(
      context.pool,
      siteId,
      marketId,
      market.place,
      keywordIds ?? null,
      new Date(Date.now() - freshMs),
    )
    const wanted = again ? all : all.filter(keyword => !keyword.fresh)
    if (!wanted.length) return { jobId: null, count: 0, fresh: all.length }
    const job = await context.jobs.add(
      siteId,
      'weigh',
      wanted.length === 1
        ? `Weighing "${wanted[0]!.phrase}"`
        : `Weighing ${wanted.length.toLocaleString('en')} keywords`,
      { marketId, keywordIds: wanted.map(keyword => keyword.id) },
    )
    return { jobId: job.id, count: wanted.length, fresh: all.length - wanted.length }
  })
  mount(router, getStrengths, ({ siteId }) => describeStrengths(context, siteId))
  mount(router, learnStrengths, async ({ siteId, marketId }) => {
    const market = await needMarket(context.pool, siteId, marketId)
    return { jobId: (await startLearning(context, siteId, market)).id }
  })
  mount(router, takeMarketScale, async ({ siteId, marketId }) => {
    const market = await needMarket(context.pool, siteId, marketId)
    const title = `Taking the scale of ${market.engine}, ${market.place}, ${market.device}`
    return { jobId: (await context.jobs.add(siteId, 'scale', title, { marketId })).id }
  })
  mount(router, readPredictions, input => readPredictionsOf(context.pool, input))
  mount(router, getFirstPage, ({ siteId, keywordId, marketId, date }) =>
    readFirstPage(context, siteId, keywordId, marketId, date ?? null),
  )
  mount(router, putPageBeside, input => readBeside(context, input))
  mount(router, readFirstPages, async ({ siteId, keywordIds, marketId }) => {
    await needMarket(context.pool, siteId, marketId)
    const queue = new PQueue({ concurrency: 4 })
    const pages = await Promise.all(
      keywordIds.map(keywordId => queue.add(() => readFirstPage(context, siteId, keywordId, marketId))),
    )
    return pages.filter(page => page !== null && page !== undefined)
  })
}
