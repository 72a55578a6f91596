import type { Market } from '@dew-trail/contract/sites'
import { packedRuns } from '../../platform/db/packed.ts'
import type { Db } from '../../platform/db/pool.ts'

export type DayRow = { day: string; positions: Buffer; checkedAt: Date }
export type SlotRow = {
  keywordId: number
  slot: number
  phrase: string
  family: number
  searches: number | null
  /** Whether these are the least that the query log shows. */
  hidden: boolean
}
export type VisibilityRow = {
  day: string
  visibility: number | null
  top3: number
  top10: number
  top30: number
  beyond: number
  notFound: number
}

/**
 * Sets in which markets tracked keywords are checked (null: all of their language), and gives the ids of those that were otherwise before.
 * Call under the site's lock.
 */
export async function setTrackedMarkets(
  db: Db,
  siteId: number,
  keywordIds: number[],
  marketIds: number[] | null,
): Promise<number[]> {
  const { rows } = await db.query<{ id: number }>(
    `update tracked_keyword set market_ids = $3
     where site_id = $1 and keyword_id = any($2) and market_ids is distinct from $3 returning keyword_id id`,
    [siteId, keywordIds, marketIds],
  )
  return rows.map(row => row.id)
}
/** Gives tracked keywords their slots: old ones keep theirs, new ones get the next. Call under the site's lock. Returns the ids whose state changed. */
export async function setTracked(db: Db, siteId: number, keywordIds: number[], tracked: boolean): Promise<number[]> {
  if (!tracked)
    return (
      await db.query<{ id: number }>(
        `update tracked_keyword set active = false where site_id = $1 and keyword_id = any($2) and active
          returning keyword_id id`,
        [siteId, keywordIds],
      )
    ).rows.map(row => row.id)
  const { rows } = await db.query<{ id: number }>(
    `insert into tracked_keyword (site_id, keyword_id, slot, since)
     select $1, k.id, (select coalesce(max(slot) + 1, 0) from tracked_keyword where site_id = $1) + row_number()
       over (order by k.id) - 1, current_date
     from keyword k where k.site_id = $1 and k.id = any($2) and not exists (select 1 from tracked_keyword t
       where t.site_id = $1 and t.keyword_id = k.id and t.active)
       and not exists (select 1 from tracked_keyword t where t.site_id = $1 and t.keyword_id = k.id
         and not t.active) returning keyword_id id`,
    [siteId, keywordIds],
  )
  const again = await db.query<{ id: number }>(
    `update tracked_keyword set active = true where site_id = $1 and keyword_id = any($2) and not active
      returning keyword_id id`,
    [siteId, keywordIds],
  )
  return [...rows, ...again.rows].map(row => row.id)
}
/** Keywords that are tracked in a market, with their slots and the searches of its place. */
export async function manySlots(
  db: Db,
  siteId: number,
  { id, place, language }: Pick<Market, 'id' | 'place' | 'language'>,
): Promise<SlotRow[]> {
  const { rows } = await db.query<SlotRow>(
    `select t.keyword_id "keywordId", t.slot, k.phrase, hashtext(k.family) family, d.searches,
       d.hidden_searches is not null hidden
     from tracked_keyword t
      join keyword k on k.site_id = t.site_id and k.id = t.keyword_id
     left join demand d on d.site_id = t.site_id and d.keyword_id = t.keyword_id and d.place = $2
       where t.site_id = $1 and t.active and k.language = $3 and (t.market_ids is null or $4 = any(t.market_ids))
     order by d.searches desc nulls last, k.phrase`,
    [siteId, place, language, id],
  )
  return rows
}
export type RowFacts = { keywordId: number; since: string; labels: string | null; planned: string | null }
/** Of tracked keywords: since when, their labels, and the address of the page that the plan has for each. */
export async function manyRowFacts(
  db: Db,
  siteId: number,
  keywordIds: readonly number[] | null = null,
): Promise<RowFacts[]> {
  const { rows } = await db.query<RowFacts>(
    `select t.keyword_id "keywordId", t.since::text "since", l.labels, p.address planned from tracked_keyword t
     left join (select k.keyword_id, string_agg(n.name, '|' order by n.name) labels from list n
       join list_keyword k on k.site_id = $1 and k.list_id = n.id where n.site_id = $1 and n.kind = 'label'
       group by 1) l on l.keyword_id = t.keyword_id
     left join page_plan_keyword pk on pk.site_id = $1 and pk.keyword_id = t.keyword_id
     left join page_plan p on p.site_id = $1 and p.id = pk.page_id and p.removed_at is null and p.state = 'published'
     where t.site_id = $1 and t.active and ($2::bigint[] is null or t.keyword_id = any($2))`,
    [siteId, keywordIds],
  )
  return rows
}
export async function maybeSlot(
  db: Db,
  siteId: number,
  keywordId: number,
): Promise<{ slot: number; phrase: string } | undefined> {
  return (
    await db.query<{ slot: number; phrase: string }>(
      `select t.slot, k.phrase from tracked_keyword t join keyword k on k.site_id = t.site_id
        and k.id = t.keyword_id where t.site_id = $1 and t.keyword_id = $2`,
      [siteId, keywordId],
    )
  ).rows[0]
}
export type ToCheck = {
  keywordId: number
  slot: number
  phrase: string
  language: string
  /** Null: all of its language. */
  marketIds: number[] | null
}
/** Whether a tracked keyword is checked in a market. */
export const isCheckedIn = (
  { language, marketIds }: Pick<ToCheck, 'language' | 'marketIds'>,
  market: Pick<Market, 'id' | 'language'>,
): boolean => language === market.language && (marketIds === null || marketIds.map(Number).includes(market.id))
/** Keywords to check with the language they are in and their markets. */
export async function manyToCheck(db: Db, siteId: number, keywordIds: number[] | null): Promise<ToCheck[]> {
  const { rows } = await db.query<ToCheck>(
    `select t.keyword_id "keywordId", t.slot, k.phrase, k.language, t.market_ids "marketIds" from tracked_keyword t
      join keyword k on k.site_id = t.site_id and k.id = t.keyword_id
     where t.site_id = $1 and t.active and ($2::bigint[] is null or t.keyword_id = any($2)) order by t.slot`,
    [siteId, keywordIds],
  )
  return rows
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
/** Pages found of a slot in every market of the site, only where they changed. */
export async function manyPagesFound(
  db: Db,
  siteId: number,
  slot: number,
): Promise<Array<{ marketId: number; day: string; url: string | null }>> {
  return (
    await db.query<{ marketId: number; day: string; url: string | null }>(
      `select p.market_id "marketId", p.day, p.url from market m
       join page_found p on p.site_id = $1 and p.market_id = m.id and p.slot = $2
       where m.site_id = $1 order by 1, 2`,
      [siteId, slot],
    )
  ).rows
}
/** The page each slot had on a day: the last change at or before it. */
export async function manyPagesOn(
  db: Db,
  siteId: number,
  marketId: number,
  day: string,
  slots: readonly number[] | null = null,
): Promise<Array<{ slot: number; url: string | null }>> {
  return (
    await db.query<{ slot: number; url: string | null }>(
      `select distinct on (slot) slot, url from page_found where site_id = $1 and market_id = $2 and day <= $3
         and ($4::integer[] is null or slot = any($4))
        order by slot, day desc`,
      [siteId, marketId, day, slots],
    )
  ).rows
}
/** The own page that tracking last found for a keyword; null where it last found none or the keyword was never tracked. */
export async function maybeLastPageFound(
  db: Db,
  siteId: number,
  keywordId: number,
  marketId: number,
): Promise<string | null> {
  const { rows } = await db.query<{ url: string | null }>(
    `select url from page_found p join tracked_keyword t on t.site_id = p.site_id and t.slot = p.slot
      where p.site_id = $1 and t.keyword_id = $2 and p.market_id = $3 order by day desc limit 1`,
    [siteId, keywordId, marketId],
  )
  return rows[0]?.url ?? null
}
export async function upsertPagesFound(
  db: Db,
  siteId: number,
  rows: Array<{ marketId: number; slot: number; day: string; url: string | null }>,
): Promise<void> {
  await db.query(
    `insert into page_found (site_id, market_id, slot, day, url) select $1, *
      from unnest($2::bigint[], $3::integer[], $4::date[], $5::text[])
      on conflict (site_id, market_id, slot, day) do update set url = excluded.url`,
    [siteId, rows.map(r => r.marketId), rows.map(r => r.slot), rows.map(r => r.day), rows.map(r => r.url)],
  )
}
export async function manySearchesBySlot(
  db: Db,
  siteId: number,
  place: string,
): Promise<Array<{ slot: number; searches: number | null }>> {
  return (
    await db.query<{ slot: number; searches: number | null }>(
      `select t.slot, d.searches from tracked_keyword t left join demand d on d.site_id = t.site_id
        and d.keyword_id = t.keyword_id and d.place = $2 where t.site_id = $1`,
      [siteId, place],
    )
  ).rows
}

export type FeatureRow = { slot: number; day: string; shown: number; held: number }
/** What each slot's result page held on a day: the last change at or before it. */
export async function manyFeaturesOn(
  db: Db,
  siteId: number,
  marketId: number,
  day: string,
  slots: readonly number[] | null = null,
): Promise<FeatureRow[]> {
  return (
    await db.query<FeatureRow>(
      `select distinct on (slot) slot, day::text "day", shown, held from feature_found
       where site_id = $1 and market_id = $2 and day <= $3 and ($4::integer[] is null or slot = any($4))
       order by slot, day desc`,
      [siteId, marketId, day, slots],
    )
  ).rows
}
/** Changes of what result pages held between two days, by slot and day. */
export async function manyFeatureChanges(
  db: Db,
  siteId: number,
  marketId: number,
  from: string,
  to: string,
): Promise<FeatureRow[]> {
  return (
    await db.query<FeatureRow>(
      `select slot, day::text "day", shown, held from feature_found
       where site_id = $1 and market_id = $2 and day > $3 and day <= $4 order by slot, day`,
      [siteId, marketId, from, to],
    )
  ).rows
}
export async function upsertFeaturesFound(
  db: Db,
  siteId: number,
  marketId: number,
  rows: readonly FeatureRow[],
): Promise<void> {
  await db.query(
    `insert into feature_found (site_id, market_id, slot, day, shown, held)
     select $1, $2, * from unnest($3::integer[], $4::date[], $5::smallint[], $6::smallint[])
     on conflict (site_id, market_id, slot, day) do update set shown = excluded.shown, held = excluded.held`,
    [siteId, marketId, rows.map(r => r.slot), rows.map(r => r.day), rows.map(r => r.shown), rows.map(r => r.held)],
  )
}
/** Changes of the page found between two days, by slot and day. */
export async function manyPageChanges(
  db: Db,
  siteId: number,
  marketId: number,
  from: string,
  to: string,
): Promise<Array<{ slot: number; day: string; url: string | null }>> {
  return (
    await db.query<{ slot: number; day: string; url: string | null }>(
      `select slot, day::text "day", url from page_found
       where site_id = $1 and market_id = $2 and day > $3 and day <= $4 order by slot, day`,
      [siteId, marketId, from, to],
    )
  ).rows
}
