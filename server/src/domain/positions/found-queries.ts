import type { Db } from '../../platform/db/pool.ts'

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
