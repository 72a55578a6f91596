import { listBrands, saveBrands } from '@dew-trail/contract/brands'
import {
  addMarket,
  changeMarket,
  changeSite,
  createSite,
  getTrail,
  listSites,
  removeMarket,
  removeSite,
} from '@dew-trail/contract/sites'
import type { Router } from 'express'
import type { Context } from '../../context.ts'
import { inTransaction } from '../../platform/db/pool.ts'
import { mount } from '../../platform/http/mount.ts'
import { maySee } from '../../platform/http/who.ts'
import { brandsOf, toBrandWords } from '../../domain/sites/brand-words.ts'
import { setBrands } from './set-brands.ts'
import { addOfferedMarket, removeWholeMarket, removeWholeSite } from './change-markets.ts'
import { addSite } from './create-site.ts'
import { needSite } from '../../domain/sites/need-market.ts'
import { setAveragePeriod } from '../../domain/keywords/queries.ts'
import { describeSite } from '../../domain/chances/describe-site.ts'
import {
  lockSite,
  manySites,
  oneTrail,
  touchAllKeywords,
  updateMarket,
  updateSite,
} from '../../domain/sites/queries.ts'

export function mountSites(router: Router, context: Context): void {
  mount(router, listSites, async () =>
    Promise.all(
      (await manySites(context.pool))
        .filter(row => maySee(row.id))
        .map(row => describeSite(context.pool, row, context.config.STANDING_REFERENCE_SITES)),
    ),
  )
  mount(router, createSite, input => addSite(context, input))
  mount(router, changeSite, async ({ siteId, averageMonths, ...change }) => {
    const revalues = change.visitWorth !== undefined || change.firstShare !== undefined
    const moves = revalues || averageMonths !== undefined
    await inTransaction(context.pool, async db => {
      await lockSite(db, siteId)
      await updateSite(db, siteId, change)
      // Rows tell their visits and what these are worth.
      if (revalues) await touchAllKeywords(db, siteId)
      if (averageMonths !== undefined) await setAveragePeriod(db, siteId, averageMonths)
    })
    context.events.publish(null, { type: 'sites' })
    if (moves) context.events.publish(siteId, { type: 'keywords' })
    return {}
  })
  mount(router, removeSite, ({ siteId, domain }) => removeWholeSite(context, siteId, domain))
  mount(router, addMarket, ({ siteId, ...market }) => addOfferedMarket(context, siteId, market))
  mount(router, changeMarket, async ({ siteId, marketId, ...change }) => {
    await updateMarket(context.pool, siteId, marketId, change)
    context.events.publish(siteId, { type: 'sites' })
    return {}
  })
  mount(router, removeMarket, ({ siteId, marketId }) => removeWholeMarket(context, siteId, marketId))
  mount(router, getTrail, async ({ siteId, marketId }) => {
    await needSite(context.pool, siteId)
    return oneTrail(context.pool, siteId, marketId ?? null)
  })
  mount(router, listBrands, async ({ siteId }) => toBrandWords(await brandsOf(context.pool, siteId)))
  mount(router, saveBrands, ({ siteId, brands }) => setBrands(context, siteId, brands))
}
