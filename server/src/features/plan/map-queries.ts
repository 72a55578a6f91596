import type { Db } from '../../platform/db/pool.ts'

/** Where somebody put pages of the map, by node. */
export async function manyMapParents(db: Db, siteId: number): Promise<Map<string, string>> {
  const { rows } = await db.query<{ node: string; under: string }>(
    'select node, under from map_parent where site_id = $1',
    [siteId],
  )
  return new Map(rows.map(row => [row.node, row.under]))
}
/** Puts a page below another, or (null) back where its address says; gives where it was put before. */
export async function setMapParent(db: Db, siteId: number, node: string, under: string | null): Promise<string | null> {
  const { rows } = await db.query<{ under: string }>(
    'delete from map_parent where site_id = $1 and node = $2 returning under',
    [siteId, node],
  )
  if (under !== null)
    await db.query('insert into map_parent (site_id, node, under) values ($1, $2, $3)', [siteId, node, under])
  return rows[0]?.under ?? null
}
export async function manySearches(
  db: Db,
  siteId: number,
  place: string,
  keywordIds: readonly number[],
): Promise<Array<{ family: string; searches: number | null }>> {
  const { rows } = await db.query<{ family: string; searches: number | null }>(
    `select k.family, d.searches from keyword k
     left join demand d on d.site_id = $1 and d.keyword_id = k.id and d.place = $2
     where k.site_id = $1 and k.id = any($3)`,
    [siteId, place, keywordIds],
  )
  return rows
}
