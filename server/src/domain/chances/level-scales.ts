import { siteLevel } from '@dew-trail/core/links/standing-from-sites'
import {
  type LevelScale,
  makeScale,
  fewestSites,
  filledUp,
  makeScaleOfFirstPages,
  shippedScale,
  sitesForScale,
} from '@dew-trail/core/results/level-scale'
import type { Db } from '../../platform/db/pool.ts'

/** To which place result pages are looked at. */
const deepest = 60

/**
 * A market's scale; `takenOn` and `sites` are null for the shipped one, which stands in until the market has one of its own. `deep`: whether it
 * comes of pages to place 60.
 */
export type TakenScale = LevelScale & { takenOn: string | null; sites: number | null; deep: boolean }

/** Scales of some markets of a site, by market; those without one of their own have the shipped one. */
export async function scalesOf(
  db: Db,
  siteId: number,
  marketIds: readonly number[],
): Promise<ReadonlyMap<number, TakenScale>> {
  const { rows } = await db.query<TakenScale & { marketId: number }>(
    `select market_id "marketId", taken_on::text "takenOn", sites, deep, levels from level_scale
     where site_id = $1 and market_id = any($2)`,
    [siteId, marketIds],
  )
  const own = new Map(rows.map(row => [row.marketId, row]))
  return new Map(marketIds.map(id => [id, own.get(id) ?? { ...shippedScale, takenOn: null, sites: null, deep: false }]))
}
export const scaleOf = async (db: Db, siteId: number, marketId: number): Promise<TakenScale> =>
  (await scalesOf(db, siteId, [marketId])).get(marketId)!

/**
 * Takes the scale of a market from the sites of its latest result pages, where enough of them are known: those seen to place 60, else those on the
 * first pages that there are; few are filled up. A market that has its scale keeps it until a better kind of one can be had; `again`: takes any.
 * Gives whether it has another one now.
 */
export async function takeScale(
  db: Db,
  siteId: number,
  marketId: number,
  referenceSites: number,
  again: boolean,
): Promise<boolean> {
  const before = await scaleOf(db, siteId, marketId)
  const reached = before.takenOn === null || again ? -1 : rankOf(before.deep, before.sites!)
  for (const deep of [true, false]) {
    const levels = await levelsSeen(db, siteId, marketId, deep ? deepest : 1, referenceSites)
    if (levels.length < fewestSites || rankOf(deep, levels.length) <= reached) continue
    const filled = filledUp(levels)
    const scale = deep ? makeScale(filled) : makeScaleOfFirstPages(filled)
    await db.query(
      `insert into level_scale (site_id, market_id, sites, deep, levels) values ($1, $2, $3, $4, $5)
       on conflict (site_id, market_id) do update set taken_on = current_date, sites = excluded.sites,
         deep = excluded.deep, levels = excluded.levels`,
      [siteId, marketId, levels.length, deep, scale.levels],
    )
    return true
  }
  return false
}
/** How good a scale is: of deep pages before one of first pages, of enough sites before one that was filled up. */
const rankOf = (deep: boolean, sites: number): number => 2 * Number(deep) + Number(sites >= sitesForScale)

/** Levels of the sites to place 60 of result pages that were fetched at least so deep. */
async function levelsSeen(
  db: Db,
  siteId: number,
  marketId: number,
  depth: number,
  referenceSites: number,
): Promise<number[]> {
  const { rows } = await db.query<{ linkingSites: number | null; linksAskedOn: string | null }>(
    `select known_linking_sites(f.linking_sites, f.domain) "linkingSites", f.links_at::date::text "linksAskedOn"
     from (select distinct r.on_site from result_head h
       join result_row r on r.site_id = $1 and r.market_id = $2 and r.keyword_id = h.keyword_id
       where h.site_id = $1 and h.market_id = $2 and h.depth >= $3 and r.now <= $4) r
     join result_site s on s.site_id = $1 and s.id = r.on_site join site_fact f on f.domain = s.domain`,
    [siteId, marketId, depth, deepest],
  )
  return rows.flatMap(row => siteLevel(row, referenceSites) ?? [])
}
