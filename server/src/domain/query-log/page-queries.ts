import type { Device } from '@dew-trail/core/demand/click-curve'
import type { Db } from '../../platform/db/pool.ts'

export type LogPageRow = {
  keywordId: number
  place: string
  device: Device
  /** Number of the page in `result_address`. */
  pageId: number
  impressions: number
  clicks: number
  position: number
}
/** Puts the rows by page of one week and property in the place of what was there. */
export async function replaceLogPages(
  db: Db,
  siteId: number,
  propertyId: number,
  week: string,
  rows: readonly LogPageRow[],
): Promise<void> {
  await db.query('delete from log_page_week where site_id = $1 and property_id = $2 and week = $3', [
    siteId,
    propertyId,
    week,
  ])
  await db.query(
    `insert into log_page_week (site_id, property_id, week, keyword_id, place, device, page_id, impressions, clicks,
      position)
     select $1, $2, $3, * from unnest($4::bigint[], $5::text[], $6::text[], $7::integer[], $8::integer[],
       $9::integer[],
       $10::real[])`,
    [
      siteId,
      propertyId,
      week,
      rows.map(row => row.keywordId),
      rows.map(row => row.place),
      rows.map(row => row.device),
      rows.map(row => row.pageId),
      rows.map(row => row.impressions),
      rows.map(row => row.clicks),
      rows.map(row => row.position),
    ],
  )
}
/** The last day of the log by page; null where none is loaded. */
export async function maybeLogEnd(db: Db, siteId: number): Promise<string | null> {
  const { rows } = await db.query<{ day: string | null }>(
    `select (max(week) + 6)::text "day" from log_page_week where site_id = $1`,
    [siteId],
  )
  return rows[0]!.day
}
/**
 * Own pages that were shown for keywords in a market in the last `days` days of the log, where they were shown `least` times or more. Of
 * properties that overlap, the one with most impressions of a keyword counts.
 */
export async function manyLoggedPages(
  db: Db,
  siteId: number,
  market: { place: string; device: string },
  days: number,
  least: number,
): Promise<
  Array<{ keywordId: number; page: string; impressions: number; clicks: number; position: number; days: number }>
> {
  const { rows } = await db.query<{
    keywordId: number
    page: string
    impressions: number
    clicks: number
    position: number
    days: number
  }>(
    `with rows as (
       select keyword_id, property_id, page_id, sum(impressions)::integer impressions, sum(clicks)::integer clicks,
         sum(impressions * position) / greatest(1, sum(impressions)) position
       from log_page_week where site_id = $1 and place = $2 and device = $3
         and week > (select max(week) from log_page_week where site_id = $1) - $4::integer
       group by 1, 2, 3
     ), best as (
       select distinct on (keyword_id) keyword_id, property_id from rows
       group by 1, 2 order by keyword_id, sum(impressions) desc, property_id
     )
     select r.keyword_id "keywordId", a.url page, r.impressions, r.clicks, r.position::float8 position,
       $4::integer days
     from rows r join best b using (keyword_id, property_id)
     join result_address a on a.site_id = $1 and a.id = r.page_id
     where r.impressions >= $5`,
    [siteId, market.place, market.device, days, least],
  )
  return rows
}
