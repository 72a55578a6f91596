import { AppError } from '@dew-trail/contract/errors'
import type { Market } from '@dew-trail/contract/sites'
import type { Db } from '../../platform/db/pool.ts'
import { maybeMarket, maybeSite, type SiteRow } from './queries.ts'

export async function needMarket(db: Db, siteId: number, marketId: number): Promise<Market> {
  const market = await maybeMarket(db, siteId, marketId)
  if (!market) throw new AppError('notFound', `The site has no market ${marketId}`)
  return market
}
export async function needSite(db: Db, siteId: number): Promise<SiteRow> {
  const site = await maybeSite(db, siteId)
  if (!site) throw new AppError('notFound', `There is no site ${siteId}`)
  return site
}
