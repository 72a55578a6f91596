import type { Db } from '../db/pool.ts'

// The path of every opened table. Each part is asked for by the ids of a batch: joining them in one statement let the planner, before it
// had statistics of a fresh import, compare every row with every row (107 s for 100,000 keywords against 1 s this way).

export type BaseRow = {
  id: number
  revision: number
  phrase: string
  kind: string
  intent: string
  intentShare: number
  words: number
  family: string
  kept: boolean
}
/** Up to `most` keywords with a higher revision, lowest first. */
export async function manyKeywordsSince(db: Db, siteId: number, since: number, most: number): Promise<BaseRow[]> {
  return (
    await db.query<BaseRow>(
      'select id, revision, phrase, kind, intent, intent_share "intentShare", words, family, kept_at is not null kept from keyword where site_id = $1 and revision > $2 order by revision limit $3',
      [siteId, since, most],
    )
  ).rows
}

/** `months` as text, oldest first, the last twelve; `monthsEnd` YYYY-MM. */
export type DemandRow = {
  id: number
  average: number | null
  months: string | null
  monthsEnd: string | null
  cpc: number | null
  bidLow: number | null
  bidHigh: number | null
  competition: number | null
  state: string
  fetchedOn: string
  source: string
  trend: string | null
  yearly: number | null
  season: number | null
  peaks: string | null
  rounded: boolean | null
  low: number | null
  high: number | null
}
export type WeighingRow = {
  id: number
  difficulty: number | null
  chance3: number | null
  chance10: number | null
  chance20: number | null
  likelyFrom: number | null
  likelyTo: number | null
  levels: number[]
  ownLevel: number | null
  state: string
  fetchedOn: string | null
}
export type LogRow = {
  id: number
  searches: number
  impressions: number
  clicks: number
  position: number
  days: number
}
/** `found`: "gathering:way" of gatherings on the path, joined by "|"; `pruned`: also found by one that was pruned. */
export type FoundRow = { id: number; found: string | null; pruned: boolean }

export type RowParts = {
  demand: Map<number, DemandRow>
  weighing: Map<number, WeighingRow>
  log: Map<number, LogRow>
  found: Map<number, FoundRow>
  page: Map<number, { id: number; title: string }>
  slot: Map<number, { id: number; slot: number }>
  lists: Map<number, { id: number; lists: string }>
}

/** What is known of some keywords in a market, part by part. */
export async function rowParts(
  db: Db,
  siteId: number,
  marketId: number,
  place: string,
  ids: number[],
): Promise<RowParts> {
  const ask = async <T extends { id: number }>(sql: string, values: unknown[]): Promise<Map<number, T>> =>
    new Map((await db.query<T>(sql, values)).rows.map(row => [row.id, row]))
  const [demand, weighing, log, found, page, slot, lists] = await Promise.all([
    ask<DemandRow>(
      `select keyword_id id, average, array_to_string(months[greatest(1, cardinality(months) - 11):], ',') months,
         to_char(months_from + make_interval(months => cardinality(months) - 1), 'YYYY-MM') "monthsEnd", cpc, bid_low "bidLow", bid_high "bidHigh", competition, state,
         fetched_at::date::text "fetchedOn", source, trend, yearly, season, array_to_string(peaks, '|') peaks, rounded, low, high
       from demand where site_id = $1 and place = $2 and keyword_id = any($3)`,
      [siteId, place, ids],
    ),
    ask<WeighingRow>(
      `select keyword_id id, difficulty, chance3, chance10, chance20, likely_from "likelyFrom", likely_to "likelyTo", levels, own_level "ownLevel", state, fetched_on::text "fetchedOn"
       from weighing where site_id = $1 and market_id = $2 and keyword_id = any($3)`,
      [siteId, marketId, ids],
    ),
    ask<LogRow>(
      'select keyword_id id, searches, impressions, clicks, position, days from log_sum where site_id = $1 and place = $2 and keyword_id = any($3)',
      [siteId, place, ids],
    ),
    ask<FoundRow>(
      `select f.keyword_id id, string_agg(distinct f.gathering_id || ':' || f.way, '|') filter (where g.pruned_at is null) found, bool_or(g.pruned_at is not null) pruned
       from finding f join gathering g on g.id = f.gathering_id where f.site_id = $1 and f.keyword_id = any($2) group by 1`,
      [siteId, ids],
    ),
    ask<{ id: number; title: string }>(
      'select k.keyword_id id, p.title from page_plan_keyword k join page_plan p on p.id = k.page_id and p.removed_at is null where k.site_id = $1 and k.keyword_id = any($2)',
      [siteId, ids],
    ),
    ask<{ id: number; slot: number }>(
      'select keyword_id id, slot from tracked_keyword where site_id = $1 and active and keyword_id = any($2)',
      [siteId, ids],
    ),
    ask<{ id: number; lists: string }>(
      `select keyword_id id, string_agg(shortlist_id::text, '|') lists from shortlist_keyword where site_id = $1 and keyword_id = any($2) group by 1`,
      [siteId, ids],
    ),
  ])
  return { demand, weighing, log, found, page, slot, lists }
}
