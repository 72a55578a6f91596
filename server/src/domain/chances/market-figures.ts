import type { Market } from '@dew-trail/contract/sites'
import type { MarketFigures, MovedFigures } from '@dew-trail/contract/weigh'
import type pg from 'pg'
import { needMarket } from '../sites/need-market.ts'
import { visitReader, type WeighedVisits } from './visits-of.ts'

/** Medians of difficulty and of the chance of a first page, and the sum of visits a month, over the weighed keywords of a market. */
export async function marketFigures(pool: pg.Pool, siteId: number, market: Market): Promise<MarketFigures> {
  const [reader, { rows }, medians] = await Promise.all([
    visitReader(pool, siteId, market),
    pool.query<WeighedVisits & { phrase: string; searches: number; pagePosition: number | null }>(
      `select k.phrase, d.searches, w.page_position "pagePosition", w.chance3, w.chance10, w.chance20,
        w.organic_share "organicShare"
       from weighing w join keyword k on k.site_id = w.site_id and k.id = w.keyword_id
       join demand d on d.site_id = w.site_id and d.keyword_id = w.keyword_id and d.place = $3
       where w.site_id = $1 and w.market_id = $2 and d.searches is not null and w.chance10 is not null`,
      [siteId, market.id, market.place],
    ),
    pool.query<{ keywords: number; difficulty: number | null; chance: number | null }>(
      `select count(difficulty)::int keywords, percentile_cont(0.5) within group (order by difficulty) difficulty,
         percentile_cont(0.5) within group (order by chance10) chance
       from weighing where site_id = $1 and market_id = $2`,
      [siteId, market.id],
    ),
  ])
  let visits: number | null = null
  for (const row of rows) {
    const brand = reader.brandOf(row.phrase) !== null
    const each =
      row.pagePosition === null
        ? reader.visits(row.searches, row, brand)
        : reader.visitsAt(row.pagePosition, row.searches, row.organicShare, brand)
    if (each !== null) visits = (visits ?? 0) + each
  }
  return { ...medians.rows[0]!, visits }
}

/**
 * Does work that changes figures of all keywords of a market and gives, beside what it gave, the figures before and after, so that the
 * screens can say that they moved. A job that goes on after a stop compares with what was when it went on.
 */
export async function withMovedFigures<T extends object>(
  pool: pg.Pool,
  siteId: number,
  marketId: number,
  work: () => Promise<T>,
): Promise<T & { moved: MovedFigures }> {
  const market = await needMarket(pool, siteId, marketId)
  const before = await marketFigures(pool, siteId, market)
  const result = await work()
  return { ...result, moved: { marketId, before, after: await marketFigures(pool, siteId, market) } }
}
