import { packedRuns } from '../../platform/db/packed.ts'
import type { Db } from '../../platform/db/pool.ts'

export type DayRow = { day: string; positions: Buffer; checkedAt: Date }
export type VisibilityRow = {
  day: string
  visibility: number | null
  top3: number
  top10: number
  top30: number
  beyond: number
  notFound: number
}
const dayColumns = 'day, positions, checked_at "checkedAt"'
/** The newest checked day of a market, or the newest up to a day. */
export async function maybeLastDay(
  db: Db,
  siteId: number,
  marketId: number,
  until?: string,
): Promise<DayRow | undefined> {
  return (
    await db.query<DayRow>(
      `select ${dayColumns} from position_day where site_id = $1 and market_id = $2 and day <= $3
       order by day desc limit 1`,
      [siteId, marketId, until ?? '9999-12-31'],
    )
  ).rows[0]
}
/** The newest checked day of each market of a site, by market. */
export async function manyLastDays(db: Db, siteId: number): Promise<Map<number, string>> {
  const { rows } = await db.query<{ marketId: number; day: string }>(
    `select m.id "marketId", d.day::text "day" from market m cross join lateral (select day from position_day d
       where d.site_id = $1 and d.market_id = m.id order by day desc limit 1) d where m.site_id = $1`,
    [siteId],
  )
  return new Map(rows.map(row => [row.marketId, row.day]))
}
/** So many days before a date, newest first; the newest of all where no date is given. */
export async function manyDaysBefore(
  db: Db,
  siteId: number,
  marketId: number,
  day: string | null,
  most: number,
): Promise<DayRow[]> {
  return (
    await db.query<DayRow>(
      `select ${dayColumns} from position_day where site_id = $1 and market_id = $2
        and ($3::date is null or day < $3) order by day desc limit $4`,
      [siteId, marketId, day, most],
    )
  ).rows
}
export async function manyDays(db: Db, siteId: number, marketId: number, from: string, to: string): Promise<DayRow[]> {
  return (
    await db.query<DayRow>(
      `select ${dayColumns} from position_day where site_id = $1 and market_id = $2 and day between $3 and $4
        order by day`,
      [siteId, marketId, from, to],
    )
  ).rows
}
export async function upsertDays(
  db: Db,
  siteId: number,
  marketId: number,
  days: ReadonlyArray<{ day: string; positions: Uint8Array }>,
): Promise<void> {
  for (const { rows, starts, lengths, packed } of packedRuns(days, each => each.positions))
    await db.query(
      `insert into position_day (site_id, market_id, day, positions, checked_at)
       select $1, $2, day, substr($3::bytea, at, bytes), now()
       from unnest($4::date[], $5::integer[], $6::integer[]) u (day, at, bytes)
       on conflict (site_id, market_id, day) do update
         set positions = excluded.positions, checked_at = excluded.checked_at`,
      [siteId, marketId, packed, rows.map(r => r.day), starts, lengths],
    )
}
/** A slot's positions on the days that stand in no year yet, two bytes each, in every market of the site; days on which it was not known are left out. */
export async function manyOpenPositions(
  db: Db,
  siteId: number,
  slot: number,
): Promise<Array<{ marketId: number; day: string; position: Buffer }>> {
  return (
    await db.query<{ marketId: number; day: string; position: Buffer }>(
      `select d.market_id "marketId", d.day::text "day", substr(d.positions, $2::integer * 2 + 1, 2) "position"
       from market m join position_day d on d.site_id = $1 and d.market_id = m.id
         and d.day > coalesce(m.folded_until, '-infinity')
       where m.site_id = $1 and length(d.positions) >= $2::integer * 2 + 2 order by 1, 2`,
      [siteId, slot],
    )
  ).rows
}
export async function upsertVisibility(db: Db, siteId: number, marketId: number, rows: VisibilityRow[]): Promise<void> {
  await db.query(
    `insert into visibility_day (site_id, market_id, day, visibility, top3, top10, top30, beyond, not_found)
      select $1, $2, * from unnest($3::date[], $4::real[], $5::integer[], $6::integer[], $7::integer[],
      $8::integer[], $9::integer[])
     on conflict (site_id, market_id, day) do update set visibility = excluded.visibility, top3 = excluded.top3,
       top10 = excluded.top10, top30 = excluded.top30, beyond = excluded.beyond, not_found = excluded.not_found`,
    [
      siteId,
      marketId,
      rows.map(r => r.day),
      rows.map(r => r.visibility),
      rows.map(r => r.top3),
      rows.map(r => r.top10),
      rows.map(r => r.top30),
      rows.map(r => r.beyond),
      rows.map(r => r.notFound),
    ],
  )
}
export async function manyVisibility(db: Db, siteId: number, marketId: number, days: number): Promise<VisibilityRow[]> {
  const { rows } = await db.query<VisibilityRow>(
    `select day, visibility, top3, top10, top30, beyond, not_found "notFound" from visibility_day
      where site_id = $1 and market_id = $2 and day > (select max(day) from visibility_day where site_id = $1
      and market_id = $2) - $3::integer order by day`,
    [siteId, marketId, days],
  )
  return rows
}
export async function manyVisibilityBetween(
  db: Db,
  siteId: number,
  marketId: number,
  from: string,
  to: string,
): Promise<VisibilityRow[]> {
  const { rows } = await db.query<VisibilityRow>(
    `select day::text "day", visibility, top3, top10, top30, beyond, not_found "notFound" from visibility_day
     where site_id = $1 and market_id = $2 and day between $3 and $4 order by day`,
    [siteId, marketId, from, to],
  )
  return rows
}
