import type { Market } from '@dew-trail/contract/sites'
import type pg from 'pg'
import { visitReader, type VisitReader } from '../../domain/chances/visits-of.ts'
import { manyPageKeywords, manyPages, type PageKeywordRow } from '../../domain/plans/queries.ts'
import { needMarket, needSite } from '../../domain/sites/need-market.ts'
import type { SiteRow } from '../../domain/sites/queries.ts'
import { keywordFigures, type PageFigures } from './page-figures.ts'
import { readStandings, type Standings } from './standing-keywords.ts'

export type Plan = {
  site: SiteRow
  market: Market
  reader: VisitReader
  standings: Standings
  pages: PageFigures[]
}

/** The planned pages of a site with what their keywords bring in a market, now and with the plan. */
export async function readPlan(pool: pg.Pool, siteId: number, marketId: number): Promise<Plan> {
  const [site, market] = await Promise.all([needSite(pool, siteId), needMarket(pool, siteId, marketId)])
  const reader = await visitReader(pool, siteId, market)
  const [pages, rows, standings] = await Promise.all([
    manyPages(pool, siteId),
    manyPageKeywords(pool, siteId, marketId, market.place),
    readStandings(pool, site, market, reader),
  ])
  const byPage = new Map<number, PageKeywordRow[]>()
  for (const row of rows) {
    const list = byPage.get(row.pageId)
    if (list) list.push(row)
    else byPage.set(row.pageId, [row])
  }
  return {
    site,
    market,
    reader,
    standings,
    pages: pages.map(page => ({
      page,
      keywords: keywordFigures(byPage.get(page.id) ?? [], page.kind, reader, standings.byKeyword),
    })),
  }
}
