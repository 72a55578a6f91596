import { siteLevel } from '@dew-trail/core/links/standing-from-sites'
import { type LevelScale, makeScale, shippedScale, sitesForScale } from '@dew-trail/core/results/level-scale'
import type { Db } from '../../platform/db/pool.ts'

/** To which place result pages are looked at; those that were fetched less deep are left out. */
const depth = 60

/** A market's scale; `takenOn` and `sites` are null for the shipped one, which stands in until the market has one of its own. */
export type TakenScale = LevelScale & { takenOn: string | null; sites: number | null }

/** Scales of some markets of a site, by market; those without one of their own have the shipped one. */
export async function scalesOf(
  db: Db,
  siteId: number,
  marketIds: readonly number[],
): Promise<ReadonlyMap<number, TakenScale>> {
  const { rows } = await db.query<TakenScale & { marketId: number }>(
    `select market_id "marketId", taken_on::text "takenOn", sites, levels from level_scale
     where site_id = $1 and market_id = any($2)`,
    [siteId, marketIds],
  )
  const own = new Map(rows.map(row => [row.marketId, row]))
  return new Map(marketIds.map(id => [id, own.get(id) ?? { ...shippedScale, takenOn: null, sites: null }]))
}
export const scaleOf = async (db: Db, siteId: number, marketId: number): Promise<TakenScale> =>
  (await scalesOf(db, siteId, [marketId])).get(marketId)!

/**
 * Takes the scale of a market from the sites seen to place 60 of its latest result pages, where enough of them are known; first pages alone
 * show the strongest. `again`: also where it has one.
 * Gives whether it has another one now.
 */
export async function takeScale(
  db: Db,
  siteId: number,
  marketId: number,
  referenceSites: number,
  again: boolean,
): Promise<boolean> {
  if (!again && (await scaleOf(db, siteId, marketId)).takenOn !== null) return false
  const { rows } = await db.query<{ linkingSites: number | null; linksAskedOn: string | null }>(
    `select f.linking_sites "linkingSites", f.links_at::date::text "linksAskedOn"
     from (select distinct r.on_site from result_head h
       join result_row r on r.site_id = $1 and r.market_id = $2 and r.keyword_id = h.keyword_id
       where h.site_id = $1 and h.market_id = $2 and h.depth >= $3 and r.now <= $3) r
     join result_site s on s.site_id = $1 and s.id = r.on_site join site_fact f on f.domain = s.domain`,
    [siteId, marketId, depth],
  )
  const levels = rows.flatMap(row => siteLevel(row, referenceSites) ?? [])
  if (levels.length < sitesForScale) return false
  await db.query(
    `insert into level_scale (site_id, market_id, sites, levels) values ($1, $2, $3, $4)
     on conflict (site_id, market_id) do update set taken_on = current_date, sites = excluded.sites,
       levels = excluded.levels`,
    [siteId, marketId, levels.length, makeScale(levels).levels],
  )
  return true
}
