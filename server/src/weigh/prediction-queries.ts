import type { Db } from '../db/pool.ts'

/**
 * Keeps what is said of a page's keywords on the day on which it is first called published. Not of keywords for which the site stands on
 * the first page already: the chance is that of a new page.
 */
export async function keepPredictions(db: Db, siteId: number, pageId: number): Promise<void> {
  await db.query(
    `with page as (update page_plan set published_on = current_date where site_id = $1 and id = $2 and not existing and published_on is null returning id)
     insert into prediction (site_id, page_id, keyword_id, market_id, said_on, chance10, likely_from, likely_to)
     select $1, page.id, w.keyword_id, w.market_id, current_date, w.chance10, w.likely_from, w.likely_to from page join page_plan_keyword pk on pk.page_id = page.id
     join weighing w on w.site_id = $1 and w.keyword_id = pk.keyword_id join site s on s.id = $1
     where w.state = 'known' and w.chance10 is not null and s.domain <> all(w.domains[1:10])`,
    [siteId, pageId],
  )
}

export type PredictionRow = {
  pageId: number
  title: string
  keywordId: number
  phrase: string
  marketId: number
  publishedOn: string
  dueOn: string
  chance: number
  likelyFrom: number | null
  likelyTo: number | null
  slot: number | null
}
/** Predictions of published pages of some markets, the latest pages first; due `settled` days after they were published. */
export async function manyPredictions(
  db: Db,
  siteId: number,
  marketIds: readonly number[],
  settled: number,
): Promise<PredictionRow[]> {
  const { rows } = await db.query<PredictionRow>(
    `select p.id "pageId", p.title, r.keyword_id "keywordId", k.phrase, r.market_id "marketId", p.published_on "publishedOn", p.published_on + $3::integer "dueOn",
       r.chance10 chance, r.likely_from "likelyFrom", r.likely_to "likelyTo", t.slot
     from prediction r join page_plan p on p.id = r.page_id and p.state = 'published' and p.removed_at is null join keyword k on k.site_id = r.site_id and k.id = r.keyword_id
     left join tracked_keyword t on t.site_id = r.site_id and t.keyword_id = r.keyword_id where r.site_id = $1 and r.market_id = any($2)
     order by p.published_on desc, p.id desc, r.chance10 desc, k.phrase`,
    [siteId, marketIds, settled],
  )
  return rows
}

/** The first result page of a keyword from a day on: its addresses, best first. */
export async function maybeResultsFrom(
  db: Db,
  siteId: number,
  keywordId: number,
  marketId: number,
  from: string,
): Promise<{ day: string; urls: string[] } | undefined> {
  const { rows } = await db.query<{ day: string; urls: string[] }>(
    `select fetched_on "day", array(select o->>'url' from jsonb_array_elements(organic) with ordinality e (o, at) order by at) urls
     from result_page where site_id = $1 and keyword_id = $2 and market_id = $3 and fetched_on >= $4 order by fetched_on limit 1`,
    [siteId, keywordId, marketId, from],
  )
  return rows[0]
}

/** The first position of a tracked keyword from a day on that was looked at, as `day-vector` writes it. */
export async function maybePositionFrom(
  db: Db,
  siteId: number,
  marketId: number,
  slot: number,
  from: string,
): Promise<{ day: string; position: number } | undefined> {
  const { rows } = await db.query<{ day: string; position: number }>(
    `select day, position from (select day, get_byte(places, 2 * $3::integer) + 256 * get_byte(places, 2 * $3::integer + 1) position from position_day
       where site_id = $1 and market_id = $2 and day >= $4 and length(places) >= 2 * $3::integer + 2) d where position <> 0 order by day limit 1`,
    [siteId, marketId, slot, from],
  )
  const row = rows[0]
  return row && { day: row.day, position: row.position > 32_767 ? row.position - 65_536 : row.position }
}
