import { noteFiguresChange } from '../../platform/db/figures-change.ts'
import type { Db } from '../../platform/db/pool.ts'
import type { Organic, PageFeatures, WeighingRow } from './queries.ts'

export type StoredPage = {
  keywordId: number
  marketId: number
  phrase: string
  fetchedOn: string
  organic: Organic[]
  features: PageFeatures
}
/** The latest result pages of weighed keywords of an engine and device, some at a time in order of keyword and market. */
export async function manyStoredPages(
  db: Db,
  siteId: number,
  marketIds: number[],
  after: { keywordId: number; marketId: number },
  most: number,
  keywordIds: readonly number[] | null = null,
): Promise<StoredPage[]> {
  const { rows } = await db.query<StoredPage>(
    `select w.keyword_id "keywordId", w.market_id "marketId", k.phrase, r.fetched_on "fetchedOn", r.organic, r.features
     from weighing w join keyword k on k.site_id = w.site_id and k.id = w.keyword_id
     join lateral (select fetched_on, organic, features from result_page r where r.site_id = $1
       and r.keyword_id = w.keyword_id and r.market_id = w.market_id order by fetched_on desc limit 1) r on true
     where w.site_id = $1 and w.market_id = any($2) and w.state = 'known' and (w.keyword_id, w.market_id) > ($3, $4)
       and ($6::bigint[] is null or w.keyword_id = any($6)) order by 1, 2 limit $5`,
    [siteId, marketIds, after.keywordId, after.marketId, most, keywordIds],
  )
  return rows
}

/** Weighed keywords of markets among whose results is a site or page of which facts were fetched since a moment. */
export async function manyWithNewFacts(db: Db, siteId: number, marketIds: number[], since: Date): Promise<number[]> {
  const { rows } = await db.query<{ id: number }>(
    `with page as (select a.id from page_fact f join result_address a on a.site_id = $1 and a.key = f.key
      where f.links_at >= $3),
       host as (select s.id from site_fact f join result_site s on s.site_id = $1 and s.domain = f.domain
         where f.links_at >= $3 or f.registry_at >= $3)
     select distinct w.keyword_id id from weighing w
     join result_row r on r.site_id = $1 and r.market_id = w.market_id and r.keyword_id = w.keyword_id
       and r.now is not null
     where w.site_id = $1 and w.market_id = any($2) and w.state = 'known'
       and (r.page_id in (select id from page) or r.on_site in (select id from host))`,
    [siteId, marketIds, since],
  )
  return rows.map(row => row.id)
}

/** What a keyword's latest result page was judged to be. */
export type Score = Omit<WeighingRow, 'state' | 'reason'> & { keywordId: number; marketId: number }
const figures = {
  difficulty: 'difficulty',
  chance3: 'chance3',
  chance10: 'chance10',
  chance20: 'chance20',
  likelyFrom: 'likely_from',
  likelyTo: 'likely_to',
  pagePosition: 'page_position',
  pageChance: 'page_chance',
  pageHigher: 'page_higher',
  lacking: 'lacking',
  reported: 'reported',
  levels: 'levels',
  ownLevel: 'own_level',
  organicShare: 'organic_share',
  paidShare: 'paid_share',
  fetchedOn: 'fetched_on',
}
const columns = Object.values(figures)
const listed = (of: string): string => columns.map(column => `${of}.${column}`).join(', ')
/** The types are the table's, so that a figure is compared as it is kept. */
const weighed = 'jsonb_populate_recordset(null::weighing, $2) j'
const differs = `w.site_id = $1 and w.keyword_id = j.keyword_id and w.market_id = j.market_id and w.state = 'known'
  and (${listed('w')}) is distinct from (${listed('j')})`
const asJson = (scores: readonly Score[]): string =>
  JSON.stringify(
    scores.map(({ keywordId, marketId, ...judgement }) => ({
      keyword_id: keywordId,
      market_id: marketId,
      ...Object.fromEntries(
        Object.entries(figures).map(([key, column]) => [column, judgement[key as keyof typeof figures]]),
      ),
    })),
  )

/** Keywords whose kept judgement is another. */
export async function manyScoredOtherwise(db: Db, siteId: number, scores: readonly Score[]): Promise<number[]> {
  const { rows } = await db.query<{ id: number }>(
    `select w.keyword_id id from weighing w, ${weighed} where ${differs}`,
    [siteId, asJson(scores)],
  )
  return rows.map(row => row.id)
}
/** Keeps scores of what was weighed where they differ; when it was weighed stays. Call under `lockSite`. Gives the keywords that changed. */
export async function updateScores(db: Db, siteId: number, scores: readonly Score[]): Promise<number[]> {
  const { rows } = await db.query<{ id: number }>(
    `update weighing w set ${columns.map(column => `${column} = j.${column}`).join(', ')} from ${weighed}
      where ${differs} returning w.keyword_id id`,
    [siteId, asJson(scores)],
  )
  if (rows.length) await noteFiguresChange(db, siteId)
  return [...new Set(rows.map(row => row.id))]
}
