import type { Db } from '../../../platform/db/pool.ts'

export async function clearPopularity(db: Db, siteId: number): Promise<void> {
  await db.query('delete from popularity where site_id = $1', [siteId])
}
/** Adds sites with their ranks; of one that is there the better rank counts. */
export async function insertPopularity(db: Db, siteId: number, ranks: ReadonlyMap<string, number>): Promise<void> {
  await db.query(
    `insert into popularity as p (site_id, domain, rank) select $1, * from unnest($2::text[], $3::integer[])
     on conflict (site_id, domain) do update set rank = least(p.rank, excluded.rank)`,
    [siteId, [...ranks.keys()], [...ranks.values()]],
  )
}
export async function countPopularity(db: Db, siteId: number): Promise<number> {
  const { rows } = await db.query<{ count: number }>('select count(*) from popularity where site_id = $1', [siteId])
  return rows[0]!.count
}
/** Ranks of sites by the list that was imported, by domain; those that are not on it have none. */
export async function manyPopularity(db: Db, siteId: number, domains: readonly string[]): Promise<Map<string, number>> {
  const { rows } = await db.query<{ domain: string; rank: number }>(
    'select domain, rank from popularity where site_id = $1 and domain = any($2)',
    [siteId, domains],
  )
  return new Map(rows.map(row => [row.domain, row.rank]))
}
