import type { Db } from '../../platform/db/pool.ts'
import { pageKey } from '../pages/page-key.ts'

/** What an engine showed for a keyword on a day: `depth` results were requested. */
export type ResultPage = {
  keywordId: number
  day: string
  depth: number
  results: ReadonlyArray<{ position: number; url: string }>
}
export type ResultsOf = { siteId: number; marketId: number; source: string }

export type Head = { day: string; depth: number }
/** Of which day the latest results of keywords are and how deep they go, by keyword; held until the transaction ends. */
export async function manyHeads(db: Db, of: ResultsOf, keywordIds: number[]): Promise<Map<number, Head>> {
  const { rows } = await db.query<Head & { keywordId: number }>(
    `select keyword_id "keywordId", day, depth from result_head
     where site_id = $1 and market_id = $2 and keyword_id = any($3) order by keyword_id for update`,
    [of.siteId, of.marketId, keywordIds],
  )
  return new Map(rows.map(row => [row.keywordId, row]))
}
/** Makes these the latest pages of their keywords; what was the latest of another day is the one before now. */
export async function upsertHeads(db: Db, of: ResultsOf, pages: readonly ResultPage[]): Promise<void> {
  await db.query(
    `insert into result_head as h (site_id, market_id, source, keyword_id, day, depth, results)
     select $1, $2, $3, * from unnest($4::integer[], $5::date[], $6::smallint[], $7::smallint[])
     on conflict (site_id, market_id, keyword_id) do update set day = excluded.day, depth = excluded.depth,
       results = excluded.results, source = excluded.source,
       before_day = case when h.day < excluded.day then h.day else h.before_day end,
       before_depth = case when h.day < excluded.day then h.depth else h.before_depth end,
       before_results = case when h.day < excluded.day then h.results else h.before_results end`,
    [
      of.siteId,
      of.marketId,
      of.source,
      pages.map(page => page.keywordId),
      pages.map(page => page.day),
      pages.map(page => page.depth),
      pages.map(page => page.results.length),
    ],
  )
}

export type NewRow = { keywordId: number; pageId: number; onSite: number; position: number }
/**
 * Puts rows in the place of the latest of their keywords. `known`: keywords that had results before; for those of `advanced` what was the
 * latest becomes what was before.
 */
export async function writeRows(
  db: Db,
  of: ResultsOf,
  { known, advanced }: { known: readonly number[]; advanced: readonly number[] },
  rows: readonly NewRow[],
): Promise<void> {
  const keywordIds = rows.map(row => row.keywordId)
  const pageIds = rows.map(row => row.pageId)
  // In this form the database makes one table of what stays; as `not exists` it compared every row with every other.
  if (known.length)
    await db.query(
      `update result_row r set now = null, before = case when r.keyword_id = any($3) then r.now else r.before end
       where r.site_id = $1 and r.market_id = $2 and r.keyword_id = any($6)
         and (r.now is not null or r.keyword_id = any($3))
         and (r.keyword_id, r.page_id) not in (select * from unnest($4::integer[], $5::integer[]))`,
      [of.siteId, of.marketId, advanced, keywordIds, pageIds, known],
    )
  await db.query(
    `insert into result_row as r (site_id, market_id, keyword_id, page_id, on_site, now)
     select $1, $2, n.* from unnest($4::integer[], $5::integer[], $6::integer[], $7::smallint[]) n
     on conflict (site_id, market_id, keyword_id, page_id) do update set now = excluded.now,
       before = case when r.keyword_id = any($3) then r.now else r.before end
     where r.now is distinct from excluded.now or (r.keyword_id = any($3) and r.before is distinct from r.now)`,
    [of.siteId, of.marketId, advanced, keywordIds, pageIds, rows.map(row => row.onSite), rows.map(row => row.position)],
  )
  if (known.length)
    await db.query(
      `delete from result_row
       where site_id = $1 and market_id = $2 and keyword_id = any($3) and now is null and before is null`,
      [of.siteId, of.marketId, known],
    )
}

/** Bytes of months (core/results/month-results) by "keyword month". */
export async function manyMonths(
  db: Db,
  of: ResultsOf,
  wanted: ReadonlyArray<{ keywordId: number; month: string }>,
): Promise<Map<string, Uint8Array>> {
  const { rows } = await db.query<{ keywordId: number; month: string; days: Uint8Array }>(
    `select m.keyword_id "keywordId", m.month, m.days from unnest($3::integer[], $4::date[]) w (keyword_id, month)
     join result_month m on m.site_id = $1 and m.market_id = $2 and m.keyword_id = w.keyword_id
       and m.month = w.month`,
    [of.siteId, of.marketId, wanted.map(each => each.keywordId), wanted.map(each => each.month)],
  )
  return new Map(rows.map(row => [`${row.keywordId} ${row.month}`, row.days]))
}
export async function upsertMonths(
  db: Db,
  of: ResultsOf,
  rows: ReadonlyArray<{ keywordId: number; month: string; days: Uint8Array }>,
): Promise<void> {
  await db.query(
    `insert into result_month (site_id, market_id, keyword_id, month, days)
     select $1, $2, * from unnest($3::integer[], $4::date[], $5::bytea[])
     on conflict (site_id, market_id, keyword_id, month) do update set days = excluded.days, kept_depth = null`,
    [
      of.siteId,
      of.marketId,
      rows.map(row => row.keywordId),
      rows.map(row => row.month),
      rows.map(row => Buffer.from(row.days)),
    ],
  )
}

/** Best positions of sites among the latest results of some keywords of a market. */
export async function manyBestPositions(
  db: Db,
  siteId: number,
  marketId: number,
  keywordIds: readonly number[],
  siteNumbers: readonly number[],
): Promise<Array<{ keywordId: number; onSite: number; position: number }>> {
  if (!siteNumbers.length) return []
  const { rows } = await db.query<{ keywordId: number; onSite: number; position: number }>(
    `select keyword_id "keywordId", on_site "onSite", min(now) position from result_row
     where site_id = $1 and market_id = $2 and keyword_id = any($3) and on_site = any($4) and now is not null
       group by 1, 2`,
    [siteId, marketId, keywordIds, siteNumbers],
  )
  return rows
}

/** `name` stands at a place for so many keywords, which are searched so often a month as far as that is known; of `unknown` keywords it is not. */
export type Positions = { name: string; position: number; keywords: number; searches: number | null; unknown: number }
const positionsOf = (name: string, best: string): string =>
  `select ${name} name, s.position, count(*)::integer keywords, sum(d.searches) searches,
     count(*) filter (where d.searches is null)::integer unknown
   from (${best}) s left join demand d on d.site_id = $1 and d.keyword_id = s.keyword_id and d.place = $3
     group by 1, 2`

/** At how many keywords of a market sites stand at which position (their best) among the latest results. */
export async function manySitePositions(
  db: Db,
  siteId: number,
  market: { id: number; place: string },
  domains: readonly string[],
): Promise<Positions[]> {
  const { rows } = await db.query<Positions>(
    positionsOf(
      's.domain',
      `select r.keyword_id, n.domain, min(r.now) as position from result_site n
       join result_row r on r.site_id = $1 and r.market_id = $2 and r.on_site = n.id and r.now is not null
       where n.site_id = $1 and n.domain = any($4) group by 1, 2`,
    ),
    [siteId, market.id, market.place, domains],
  )
  return rows
}
/** The same of pages, by their addresses as given. */
export async function manyPagePositions(
  db: Db,
  siteId: number,
  market: { id: number; place: string },
  urls: readonly string[],
): Promise<Positions[]> {
  const { rows } = await db.query<Positions>(
    positionsOf(
      's.url',
      `select r.keyword_id, u.url, min(r.now) as position from unnest($4::text[], $5::uuid[]) u (url, key)
       join result_address a on a.site_id = $1 and a.key = u.key
       join result_row r on r.site_id = $1 and r.market_id = $2 and r.page_id = a.id and r.now is not null
         group by 1, 2`,
    ),
    [siteId, market.id, market.place, urls, urls.map(pageKey)],
  )
  return rows
}
/** Keywords of a market whose results are known. */
export async function countKeywordsWithResults(db: Db, siteId: number, marketId: number): Promise<number> {
  const { rows } = await db.query<{ count: number }>(
    'select count(*)::integer count from result_head where site_id = $1 and market_id = $2',
    [siteId, marketId],
  )
  return rows[0]!.count
}

/** Sites among the latest results of a site's keywords, those on most result pages first, with the number of these. */
export async function manyResultDomains(
  db: Db,
  siteId: number,
  most: number,
): Promise<Array<{ domain: string; pages: number }>> {
  const { rows } = await db.query<{ domain: string; pages: number }>(
    `select s.domain, r.pages from (select on_site, count(distinct (market_id, keyword_id)) pages from result_row
       where site_id = $1 and now is not null group by 1) r
     join result_site s on s.site_id = $1 and s.id = r.on_site order by r.pages desc, s.domain collate "C" limit $2`,
    [siteId, most],
  )
  return rows
}
/** Phrases for which a site, or one page of it, is or was among the results of a market. */
export async function manyPhrasesFoundFor(
  db: Db,
  siteId: number,
  marketId: number,
  domain: string,
  url: string | null,
): Promise<string[]> {
  const { rows } = await db.query<{ phrase: string }>(
    `select distinct k.phrase from result_site s join result_row r on r.site_id = $1 and r.market_id = $2
      and r.on_site = s.id
     join result_address a on a.site_id = $1 and a.id = r.page_id join keyword k on k.site_id = $1
       and k.id = r.keyword_id
     where s.site_id = $1 and s.domain = $3 and ($4::uuid is null or a.key = $4)`,
    [siteId, marketId, domain, url === null ? null : pageKey(url)],
  )
  return rows.map(row => row.phrase)
}

/**
 * Has the database count results anew, after a job that brought many. Its own counting comes a minute late, and until then it reads all
 * results of a market where it should look up those of a page: a first page took 270 ms in place of 35.
 */
export async function analyzeResults(db: Db): Promise<void> {
  await db.query('analyze result_row, result_address, result_site')
}
