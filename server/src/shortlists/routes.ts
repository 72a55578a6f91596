import { AppError } from '@dew-trail/contract/errors'
import { addShortlist, changeShortlist, listShortlists, removeShortlist } from '@dew-trail/contract/shortlists'
import type { Router } from 'express'
import type { Context } from '../context.ts'
import { inTransaction } from '../db/pool.ts'
import { mount } from '../http/mount.ts'
import { needSite } from '../sites/need-market.ts'
import { lockSite, touchKeywords } from '../sites/queries.ts'
import { deleteShortlist, manyShortlists, oneShortlist, setOnShortlist } from './queries.ts'

export function mountShortlists(router: Router, context: Context): void {
  const { pool } = context
  const missing = (shortlistId: number): AppError => new AppError('notFound', `There is no shortlist ${shortlistId}`)
  mount(router, listShortlists, async ({ siteId }) => manyShortlists(pool, (await needSite(pool, siteId)).id))
  mount(router, addShortlist, async ({ siteId, name }) => oneShortlist(pool, (await needSite(pool, siteId)).id, name))
  mount(router, removeShortlist, async ({ siteId, shortlistId }) => {
    await inTransaction(pool, async db => {
      await lockSite(db, siteId)
      const had = await deleteShortlist(db, siteId, shortlistId)
      if (!had) throw missing(shortlistId)
      await touchKeywords(db, siteId, had)
    })
    context.events.publish(siteId, { type: 'keywords' })
    return { removed: true }
  })
  mount(router, changeShortlist, async ({ siteId, shortlistId, keywordIds, on }) => {
    const changed = await inTransaction(pool, async db => {
      await lockSite(db, siteId)
      const ids = await setOnShortlist(db, siteId, shortlistId, keywordIds, on)
      if (!ids) throw missing(shortlistId)
      await touchKeywords(db, siteId, ids)
      return ids
    })
    context.events.publish(siteId, { type: 'keywords' })
    return { changed }
  })
}
