import { listCheckSchedules, setCheckSchedule, setTimeZone } from '@dew-trail/contract/schedules'
import { nextRun } from '@dew-trail/core/days/next-run'
import { checkNow, keywordHistory, listPositions, listVisibility, trackKeywords } from '@dew-trail/contract/track'
import type { Router } from 'express'
import type { Context } from '../context.ts'
import { askForPlaces } from './ask-for-places.ts'
import { inTransaction } from '../db/pool.ts'
import { mount } from '../http/mount.ts'
import { deleteSchedule, manySchedules, oneTimeZone, upsertSchedule } from '../schedules/queries.ts'
import { setSiteTimeZone } from '../schedules/set-time-zone.ts'
import { needMarket } from '../sites/need-market.ts'
import { lockSite, touchKeywords } from '../sites/queries.ts'
import { checkKind } from './scheduled-check.ts'
import { startCheck } from './start-check.ts'
import { manyVisibility, setTracked } from './queries.ts'
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
  mount(router, checkNow, ({ siteId, keywordIds }) => startCheck(context, siteId, { keywordIds }))
  mount(router, listCheckSchedules, async ({ siteId }) => ({
    timeZone: await oneTimeZone(context.pool, siteId),
    schedules: (await manySchedules(context.pool, siteId, checkKind)).map(row => ({
      marketId: row.subject.marketId!,
      rhythm: row.rhythm,
      nextAt: row.nextAt.toISOString(),
      lastAt: row.lastAt?.toISOString() ?? null,
      wasLate: row.wasLate,
      lastError: row.lastError,
    })),
  }))
  mount(router, setCheckSchedule, async ({ siteId, marketId, rhythm }) => {
    const subject = { marketId }
    if (rhythm) {
      const nextAt = nextRun(rhythm, await oneTimeZone(context.pool, siteId), new Date())
      await upsertSchedule(context.pool, siteId, checkKind, subject, rhythm, nextAt)
    } else await deleteSchedule(context.pool, siteId, checkKind, subject)
    context.events.publish(siteId, { type: 'schedules' })
    return {}
  })
  mount(router, setTimeZone, async ({ siteId, timeZone }) => {
    await setSiteTimeZone(context.pool, siteId, timeZone)
    context.events.publish(siteId, { type: 'schedules' })
    return {}
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
