import type { Device } from '@dew-trail/core/demand/click-curve'
import type { Db } from '../../platform/db/pool.ts'

export type CurveRow = { device: Device; brand: boolean; shares: number[]; impressions: number[]; fittedAt: string }
export type LogWeekRow = {
  keywordId: number
  place: string
  device: Device
  impressions: number
  clicks: number
  position: number
}
export type PropertyRow = {
  id: number
  property: string
  name: string
  lastDay: string | null
  loadedAt: string | null
  queries: number
  impressions: number
  clicks: number
  gatheringId: number | null
}

export async function manyCurves(db: Db, siteId: number): Promise<CurveRow[]> {
  return (
    await db.query<CurveRow>(
      `select device, brand, shares, impressions, fitted_at::text "fittedAt" from click_curve where site_id = $1
        order by device, brand`,
      [siteId],
    )
  ).rows
}
export async function manyProperties(db: Db, siteId: number): Promise<PropertyRow[]> {
  return (
    await db.query<PropertyRow>(
      `select p.id, p.property, p.name, p.last_day "lastDay", p.loaded_at::text "loadedAt",
        p.gathering_id "gatheringId", coalesce(w.queries, 0) queries, coalesce(w.impressions, 0) impressions,
        coalesce(w.clicks, 0) clicks
       from log_property p left join lateral (select count(distinct keyword_id) queries,
         sum(impressions) impressions, sum(clicks) clicks from log_week w where w.site_id = p.site_id
         and w.property_id = p.id) w on true
       where p.site_id = $1 order by p.id`,
      [siteId],
    )
  ).rows
}
/** Id of a property of the site, made when it is not there yet. */
export async function onePropertyId(db: Db, siteId: number, property: string, name: string): Promise<number> {
  return (
    await db.query<{ id: number }>(
      `insert into log_property (site_id, property, name) values ($1, $2, $3) on conflict (site_id, property)
        do update set name = excluded.name returning id`,
      [siteId, property, name],
    )
  ).rows[0]!.id
}
export async function setPropertyGathering(
  db: Db,
  siteId: number,
  propertyId: number,
  gatheringId: number,
): Promise<void> {
  await db.query('update log_property set gathering_id = $3 where site_id = $1 and id = $2', [
    siteId,
    propertyId,
    gatheringId,
  ])
}
/** Notes until when a property is loaded, where that is later than what is noted; null: nothing of it is there. */
export async function setPropertyLoaded(
  db: Db,
  siteId: number,
  propertyId: number,
  lastDay: string | null,
): Promise<void> {
  await db.query(
    `update log_property set last_day = greatest(case when $3::date is not null then last_day end, $3::date),
       loaded_at = now() where site_id = $1 and id = $2`,
    [siteId, propertyId, lastDay],
  )
}
/** Puts the rows of one week and property in the place of what was there. */
export async function replaceLogWeek(
  db: Db,
  siteId: number,
  propertyId: number,
  week: string,
  rows: LogWeekRow[],
): Promise<void> {
  await db.query('delete from log_week where site_id = $1 and property_id = $2 and week = $3', [
    siteId,
    propertyId,
    week,
  ])
  await db.query(
    `insert into log_week (site_id, property_id, week, keyword_id, place, device, impressions, clicks, position)
     select $1, $2, $3, * from unnest($4::bigint[], $5::text[], $6::text[], $7::integer[], $8::integer[],
       $9::real[])`,
    [
      siteId,
      propertyId,
      week,
      rows.map(row => row.keywordId),
      rows.map(row => row.place),
      rows.map(row => row.device),
      rows.map(row => row.impressions),
      rows.map(row => row.clicks),
      rows.map(row => row.position),
    ],
  )
}
/** Whether any week of a property is there. */
export async function hasWeeks(db: Db, siteId: number, propertyId: number): Promise<boolean> {
  const { rowCount } = await db.query('select from log_week where site_id = $1 and property_id = $2 limit 1', [
    siteId,
    propertyId,
  ])
  return rowCount === 1
}
/** Has the database look at the log again: right after loading, its plans are still those of an empty table. */
export async function analyzeLog(db: Db): Promise<void> {
  await db.query('analyze log_week, keyword')
}
export type LogTotal = {
  keywordId: number
  place: string
  device: Device
  propertyId: number
  impressions: number
  clicks: number
  position: number
  days: number
}
/** Sums a keyword, place, device and property over the last 13 weeks that the log has. */
export async function manyLogTotals(db: Db, siteId: number): Promise<LogTotal[]> {
  return (
    await db.query<LogTotal>(
      `with last as (select max(week) week, min(week) first from log_week where site_id = $1)
       select keyword_id "keywordId", place, device, property_id "propertyId",
         sum(impressions)::integer impressions, sum(clicks)::integer clicks,
         (sum(impressions * position) / greatest(1, sum(impressions)))::real position,
           least(91, (select week - first + 7 from last)) days
       from log_week where site_id = $1 and week > (select week - 91 from last) group by 1, 2, 3, 4`,
      [siteId],
    )
  ).rows
}
/** Impressions and clicks by keyword, device and whole position up to 20, over all weeks of the property with the most impressions. */
export async function manyPositionCounts(
  db: Db,
  siteId: number,
): Promise<
  Array<{ keywordId: number; phrase: string; device: Device; position: number; impressions: number; clicks: number }>
> {
  const { rows } = await db.query<{
    keywordId: number
    phrase: string
    device: Device
    position: number
    impressions: number
    clicks: number
  }>(
    `select w.keyword_id "keywordId", k.phrase, w.device, round(w.position)::integer as position,
      sum(w.impressions)::integer impressions, sum(w.clicks)::integer clicks
     from log_week w join keyword k on k.site_id = w.site_id and k.id = w.keyword_id
     where w.site_id = $1 and w.position < 20.5 and w.property_id = (select property_id from log_week
       where site_id = $1 group by 1 order by sum(impressions) desc limit 1)
     group by 1, 2, 3, 4`,
    [siteId],
  )
  return rows
}
export async function replaceLogSums(
  db: Db,
  siteId: number,
  rows: Array<{
    keywordId: number
    place: string
    days: number
    impressions: number
    clicks: number
    position: number
    searches: number
  }>,
): Promise<void> {
  await db.query('delete from log_sum where site_id = $1', [siteId])
  await db.query(
    `insert into log_sum (site_id, keyword_id, place, days, impressions, clicks, position, searches)
     select $1, * from unnest($2::bigint[], $3::text[], $4::integer[], $5::integer[], $6::integer[], $7::real[],
       $8::real[])`,
    [
      siteId,
      rows.map(row => row.keywordId),
      rows.map(row => row.place),
      rows.map(row => row.days),
      rows.map(row => row.impressions),
      rows.map(row => row.clicks),
      rows.map(row => row.position),
      rows.map(row => row.searches),
    ],
  )
}
/** Takes curves away that the log no longer has enough for; `kept` are those that it has. */
export async function deleteOtherCurves(
  db: Db,
  siteId: number,
  kept: ReadonlyArray<{ device: Device; brand: boolean }>,
): Promise<void> {
  await db.query(
    `delete from click_curve where site_id = $1 and (device, brand) not in (select *
      from unnest($2::text[], $3::boolean[]))`,
    [siteId, kept.map(each => each.device), kept.map(each => each.brand)],
  )
}
export async function upsertCurve(
  db: Db,
  siteId: number,
  curve: { device: Device; brand: boolean; shares: number[]; impressions: number[] },
): Promise<void> {
  await db.query(
    `insert into click_curve (site_id, device, brand, shares, impressions) values ($1, $2, $3, $4, $5)
     on conflict (site_id, device, brand) do update
       set shares = excluded.shares, impressions = excluded.impressions, fitted_at = now()`,
    [siteId, curve.device, curve.brand, curve.shares, curve.impressions],
  )
}
