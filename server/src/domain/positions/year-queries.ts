import { packedRuns } from '../../platform/db/packed.ts'
import type { Db } from '../../platform/db/pool.ts'

/** Those of some slots that have a year in a market: of each something was found out by the day up to which days are folded. */
export async function manySlotsWithYears(
  db: Db,
  siteId: number,
  marketId: number,
  slots: readonly number[],
): Promise<number[]> {
  const { rows } = await db.query<{ slot: number }>(
    `select slot from unnest($3::integer[]) u (slot) where exists (select from position_year y
       where y.site_id = $1 and y.market_id = $2 and y.slot = u.slot)`,
    [siteId, marketId, slots],
  )
  return rows.map(row => row.slot)
}
/** The last day of a market whose positions stand in its keywords' years too; null where none does. */
export async function maybeFoldedUntil(db: Db, siteId: number, marketId: number): Promise<string | null> {
  const { rows } = await db.query<{ day: string | null }>(
    'select folded_until::text "day" from market where site_id = $1 and id = $2',
    [siteId, marketId],
  )
  return rows[0]?.day ?? null
}
export async function setFoldedUntil(db: Db, siteId: number, marketId: number, day: string): Promise<void> {
  await db.query('update market set folded_until = $3 where site_id = $1 and id = $2', [siteId, marketId, day])
}
/** Days of a market that stand in no keyword's years yet, without their positions. */
export async function manyOpenDays(db: Db, siteId: number, marketId: number): Promise<string[]> {
  const { rows } = await db.query<{ day: string }>(
    `select d.day::text "day" from position_day d join market m on m.site_id = d.site_id and m.id = d.market_id
     where d.site_id = $1 and d.market_id = $2 and d.day > coalesce(m.folded_until, '-infinity') order by 1`,
    [siteId, marketId],
  )
  return rows.map(row => row.day)
}
/** Markets of all sites with at least so many days that stand in no keyword's years yet. */
export async function manyMarketsToFold(db: Db, days: number): Promise<Array<{ siteId: number; marketId: number }>> {
  const { rows } = await db.query<{ siteId: number; marketId: number }>(
    `select m.site_id "siteId", m.id "marketId" from market m
     join position_day d on d.site_id = m.site_id and d.market_id = m.id
       and d.day > coalesce(m.folded_until, '-infinity')
     group by 1, 2 having count(*) >= $1 order by 1, 2`,
    [days],
  )
  return rows
}
/** A slot's years in every market of the site. */
export async function manyYears(
  db: Db,
  siteId: number,
  slot: number,
): Promise<Array<{ marketId: number; year: number; positions: Buffer }>> {
  return (
    await db.query<{ marketId: number; year: number; positions: Buffer }>(
      // Market by market, since the key has the market before the slot.
      `select y.market_id "marketId", y.year, y.positions from market m
       join position_year y on y.site_id = $1 and y.market_id = m.id and y.slot = $2
       where m.site_id = $1 order by 1, 2`,
      [siteId, slot],
    )
  ).rows
}
/** Years of many slots of a market. */
export async function manyYearsOf(
  db: Db,
  siteId: number,
  marketId: number,
  slots: readonly number[],
  years: readonly number[],
): Promise<Array<{ slot: number; year: number; positions: Buffer }>> {
  return (
    await db.query<{ slot: number; year: number; positions: Buffer }>(
      `select slot, year, positions from position_year
       where site_id = $1 and market_id = $2 and slot = any($3) and year = any($4)`,
      [siteId, marketId, slots, years],
    )
  ).rows
}
export async function upsertYears(
  db: Db,
  siteId: number,
  years: ReadonlyArray<{ marketId: number; slot: number; year: number; positions: Uint8Array }>,
): Promise<void> {
  for (const { rows, starts, lengths, packed } of packedRuns(years, each => each.positions))
    await db.query(
      `insert into position_year (site_id, market_id, slot, year, positions)
       select $1, market, slot, year, substr($2::bytea, at, bytes)
       from unnest($3::bigint[], $4::integer[], $5::smallint[], $6::integer[], $7::integer[])
         u (market, slot, year, at, bytes)
       on conflict (site_id, market_id, slot, year) do update set positions = excluded.positions`,
      [siteId, packed, rows.map(r => r.marketId), rows.map(r => r.slot), rows.map(r => r.year), starts, lengths],
    )
}
