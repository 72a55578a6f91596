import type { Db } from '../../platform/db/pool.ts'

/** As many rivals as have columns. */
const mostRivals = 10
type RivalPositions = { domain: string; now: number[]; before: number[] }

/**
 * Positions of rivals for keywords of a market, in the order of the keywords, by the latest results and those before: above 0 the best
 * position, below 0 not found within so many, 0 not known.
 */
export async function readRivalPositions(
  db: Db,
  siteId: number,
  marketId: number,
  keywordIds: readonly number[],
  rivals: readonly string[],
): Promise<RivalPositions[]> {
  const domains = [...new Set(rivals)].slice(0, mostRivals)
  if (!domains.length || !keywordIds.length) return []
  const [{ rows: heads }, { rows: found }] = await Promise.all([
    db.query<{ id: number; depth: number; beforeDepth: number | null }>(
      `select keyword_id id, depth, before_depth "beforeDepth" from result_head
       where site_id = $1 and market_id = $2 and keyword_id = any($3)`,
      [siteId, marketId, keywordIds],
    ),
    db.query<{ id: number; domain: string; now: number | null; before: number | null }>(
      `select r.keyword_id id, s.domain, min(r.now)::integer now, min(r.before)::integer before
       from result_site s join result_row r on r.site_id = $1 and r.market_id = $2 and r.on_site = s.id
         and r.keyword_id = any($3)
       where s.site_id = $1 and s.domain = any($4) group by 1, 2`,
      [siteId, marketId, keywordIds, domains],
    ),
  ])
  const rowOf = new Map(keywordIds.map((id, i) => [id, i]))
  const values = domains.map(domain => ({ domain, now: keywordIds.map(() => 0), before: keywordIds.map(() => 0) }))
  for (const { id, depth, beforeDepth } of heads)
    for (const each of values) {
      each.now[rowOf.get(id)!] = -depth
      each.before[rowOf.get(id)!] = -(beforeDepth ?? 0)
    }
  const byDomain = new Map(values.map(each => [each.domain, each]))
  for (const { id, domain, now, before } of found) {
    const [each, row] = [byDomain.get(domain)!, rowOf.get(id)!]
    if (now !== null) each.now[row] = now
    if (before !== null) each.before[row] = before
  }
  return values
}
