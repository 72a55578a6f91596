import { AppError } from '@dew-trail/contract/errors'
import { checkNow, keywordHistory, listPositions, listVisibility, trackKeywords } from '@dew-trail/contract/track'
import type { Router } from 'express'
import type { Context } from '../context.ts'
import { askForPlaces } from './ask-for-places.ts'
import { inTransaction } from '../db/pool.ts'
import { mount } from '../http/mount.ts'
import { needMarket, needSite } from '../sites/need-market.ts'
import { lockSite, touchKeywords } from '../sites/queries.ts'
import { manyToCheck, manyVisibility, setTracked } from './queries.ts'
import { readHistory, readPositions } from './read-positions.ts'

export function mountTrack(router: Router, context: Context): void {
  mount(router, trackKeywords, async ({ siteId, keywordIds, tracked }) => {
    const changed = await inTransaction(context.pool, async db => {
      await lockSite(db, siteId)
      const ids = await setTracked(db, siteId, keywordIds, tracked)
      await touchKeywords(db, siteId, ids)
      return ids
    })
    context.events.publish(siteId, { type: 'positions' })
    context.events.publish(siteId, { type: 'keywords' })
    // What is watched is weighed by its searches, so those nobody has asked about are asked for now.
    if (tracked && changed.length) await askForPlaces(context, siteId, changed)
    return { changed }
  })
  mount(router, checkNow, async ({ siteId, keywordIds }) => {
    const site = await needSite(context.pool, siteId)
    const keywords = await manyToCheck(context.pool, siteId, keywordIds ?? null)
    const requests = site.markets.reduce(
      (sum, market) => sum + keywords.filter(keyword => keyword.language === market.language).length,
      0,
    )
    if (!requests) throw new AppError('badInput', 'No keyword is tracked yet. Send some from Gather or Plan first.')
    const job = await context.jobs.add(
      siteId,
      'check',
      `Checking ${keywords.length.toLocaleString('en')} ${keywords.length === 1 ? 'keyword' : 'keywords'}`,
      keywordIds ? { keywordIds } : {},
    )
    return { jobId: job.id, requests }
  })
  mount(router, listPositions, ({ siteId, marketId, compareDays }) =>
    readPositions(context.pool, siteId, marketId, compareDays),
  )
  mount(router, listVisibility, async ({ siteId, marketId, days }) => {
    await needMarket(context.pool, siteId, marketId)
    return manyVisibility(context.pool, siteId, marketId, days)
  })
  mount(router, keywordHistory, ({ siteId, keywordId, days }) => readHistory(context.pool, siteId, keywordId, days))
}
