import type { Db } from '../../platform/db/pool.ts'

/**
 * Keeps what is said of a page's keywords on the day on which it is first called published. Not of keywords for which the site stands on
 * the first page already: the chance is that of a new page.
 */
export async function keepPredictions(db: Db, siteId: number, pageId: number): Promise<void> {
  await db.query(
    `with page as (update page_plan set published_on = current_date where site_id = $1 and id = $2
      and not existing and published_on is null returning id)
     insert into prediction (site_id, page_id, keyword_id, market_id, predicted_on, chance10, likely_from, likely_to)
     select $1, page.id, w.keyword_id, w.market_id, current_date, w.chance10, w.likely_from, w.likely_to
       from page join page_plan_keyword pk on pk.site_id = $1 and pk.page_id = page.id
     join weighing w on w.site_id = $1 and w.keyword_id = pk.keyword_id join site s on s.id = $1
     where w.state = 'known' and w.chance10 is not null and not exists (select from result_site n
       join result_row r on r.site_id = $1 and r.on_site = n.id
       and r.market_id = w.market_id and r.keyword_id = w.keyword_id and r.now <= 10 where n.site_id = $1
         and n.domain = s.domain)`,
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
  /** The first position looked at since it was due: a place, or the depth without it as a number below 0. */
  positionOn: string | null
  position: number | null
  /** The first result page since then: its addresses, best first. */
  resultsOn: string | null
  urls: string[] | null
}
/**
 * Predictions of published pages of some markets, the latest pages first, due `settled` days after they were published; with the first
 * result page and the first position that was looked at since, of those that are due by `today`.
 */
export async function manyPredictions(
  db: Db,
  siteId: number,
  marketIds: readonly number[],
  settled: number,
  today: string,
): Promise<PredictionRow[]> {
  // Positions are two bytes each, as `day-vector` writes them: 0 = not looked at.
  const { rows } = await db.query<PredictionRow>(
    `select p.id "pageId", p.title, r.keyword_id "keywordId", k.phrase, r.market_id "marketId",
      p.published_on "publishedOn", d.due "dueOn",
       r.chance10 chance, r.likely_from "likelyFrom", r.likely_to "likelyTo", w.day "positionOn", w.position,
         s.day "resultsOn", s.urls
     from prediction r join page_plan p on p.site_id = r.site_id and p.id = r.page_id and p.state = 'published'
       and p.removed_at is null join keyword k on k.site_id = r.site_id and k.id = r.keyword_id
     cross join lateral (select p.published_on + $3::integer due) d
     left join tracked_keyword t on t.site_id = r.site_id and t.keyword_id = r.keyword_id
     left join lateral (select day, case when raw > 32767 then raw - 65536 else raw end position
       from (select day, get_byte(positions, 2 * t.slot) + 256 * get_byte(positions, 2 * t.slot + 1) raw
         from position_day
         where site_id = r.site_id and market_id = r.market_id and day >= d.due
           and length(positions) >= 2 * t.slot + 2) looked
       where raw <> 0 order by day limit 1) w on d.due <= $4
     left join lateral (select fetched_on "day", array(select o->>'url' from jsonb_array_elements(organic)
       with ordinality e (o, at) order by at) urls
       from result_page where site_id = r.site_id and keyword_id = r.keyword_id and market_id = r.market_id
         and fetched_on >= d.due order by fetched_on limit 1) s on d.due <= $4
     where r.site_id = $1 and r.market_id = any($2)
     order by p.published_on desc, p.id desc, r.chance10 desc, k.phrase`,
    [siteId, marketIds, settled, today],
  )
  return rows
}
