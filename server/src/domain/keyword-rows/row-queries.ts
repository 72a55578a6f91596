import type { Db } from '../../platform/db/pool.ts'
import { themeName } from '../themes/queries.ts'

// The path of every opened table. Each part is asked for by the ids of a batch: joining them in one statement let the planner, before it
// had statistics of a fresh import, compare every row with every row (107 s for 100,000 keywords). Each looks its rows up one by one
// (lateral), since "= any(ids)" made it read the whole table for every batch; and each comes as one JSON text, which Node reads three
// times as fast as rows.

export type BaseRow = {
  id: number
  revision: number
  phrase: string
  language: string
  kind: string
  intent: string
  intentShare: number
  words: number
  family: string
  kept: boolean
  imported: boolean
  /** One that only an import brought which was taken back. */
  takenBack: boolean
}
/** Up to `most` keywords with a higher revision, lowest first. */
export async function manyKeywordsSince(
  db: Db,
  siteId: number,
  language: string,
  since: number,
  most: number,
): Promise<BaseRow[]> {
  return manyAsJson(
    db,
    `select id, revision, phrase, language, kind, intent, intent_share "intentShare", words, family,
      kept_at is not null kept, imported, not imported and import_id is not null "takenBack" from keyword
      where site_id = $1 and revision > $2 and language = $4
      order by revision limit $3`,
    [siteId, since, most, language],
  )
}

async function manyAsJson<T>(db: Db, sql: string, values: unknown[]): Promise<T[]> {
  const { rows } = await db.query<{ list: T[] }>(`select coalesce(json_agg(t), '[]') list from (${sql}) t`, values)
  return rows[0]!.list
}

/** `months` as text, oldest first, the last twelve; `monthsEnd` YYYY-MM. */
export type DemandRow = {
  id: number
  searches: number | null
  /** Whether the searches are those that the query log shows at the least. */
  hidden: boolean
  months: string | null
  monthsEnd: string | null
  cpc: number | null
  /** "source|date" where it is not that of the searches. */
  cpcFrom: string | null
  competitionFrom: string | null
  bidLow: number | null
  bidHigh: number | null
  competition: number | null
  mobileShare: number | null
  worldwide: number | null
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
/** Searches by match. */
export type MatchRow = {
  id: number
  exact: number | null
  inOrder: number | null
  anyOrder: number
  source: string
}
export type WeighingRow = {
  id: number
  difficulty: number | null
  chance3: number | null
  chance10: number | null
  chance20: number | null
  likelyFrom: number | null
  likelyTo: number | null
  pagePosition: number | null
  pageChance: number | null
  pageHigher: number | null
  lacking: Array<number | null> | null
  reported: number | null
  levels: number[]
  ownLevel: number | null
  organicShare: number | null
  paidShare: number | null
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
  match: Map<number, MatchRow>
  weighing: Map<number, WeighingRow>
  log: Map<number, LogRow>
  found: Map<number, FoundRow>
  page: Map<number, { id: number; title: string }>
  slot: Map<number, { id: number; slot: number }>
  /** Ids of shortlists and names of labels, joined by "|". */
  lists: Map<number, { id: number; lists: string | null; labels: string | null }>
  /** The theme in the current grouping of the market. */
  theme: Map<number, { id: number; theme: string }>
  /** How many pages have it in their text and in their titles. */
  count: Map<number, { id: number; text: number | null; titles: number | null }>
  /** How many domain names are free, and which, joined by "|". */
  names: Map<number, { id: number; free: number; names: string | null }>
  /** How many of the latest results are known, and of which day they are. */
  head: Map<number, { id: number; results: number; day: string }>
}

export type PartName = keyof RowParts

const partTables: Record<PartName, string> = {
  demand: 'demand',
  match: 'demand_match',
  weighing: 'weighing',
  log: 'log_sum',
  found: 'finding',
  page: 'page_plan_keyword',
  slot: 'tracked_keyword',
  lists: 'list_keyword',
  theme: 'theme_keyword',
  names: 'keyword_name',
  count: 'keyword_count',
  head: 'result_head',
}
/** The parts of which the site has anything at all: the others need not be looked up for every keyword. */
export async function presentParts(db: Db, siteId: number): Promise<Set<PartName>> {
  const names = Object.keys(partTables) as PartName[]
  const { rows } = await db.query<Record<string, boolean>>(
    `select ${names.map(name => `exists (select from ${partTables[name]} where site_id = $1) "${name}"`).join(', ')}`,
    [siteId],
  )
  return new Set(names.filter(name => rows[0]![name]))
}

/** What is known of some keywords in a market, part by part. */
export async function rowParts(
  db: Db,
  { siteId, marketId, place }: { siteId: number; marketId: number; place: string },
  ids: number[],
  present: ReadonlySet<PartName>,
): Promise<RowParts> {
  const ask = async <T extends { id: number }>(
    name: PartName,
    columns: string,
    where: string,
    more: unknown[] = [],
    joined = '',
  ) =>
    new Map(
      present.has(name)
        ? (
            await manyAsJson<T>(
              db,
              `select i.id, d.* from unnest($2::bigint[]) i(id) cross join lateral (select ${columns}
                from ${partTables[name]} d ${joined} where d.site_id = $1 and d.keyword_id = i.id ${where}) d`,
              [siteId, ids, ...more],
            )
          ).map(row => [row.id, row])
        : [],
    )
  const [demand, match, weighing, log, found, page, slot, lists, theme, names, count, head] = await Promise.all([
    ask<DemandRow>(
      'demand',
      `searches, hidden_searches is not null hidden, array_to_string(months[greatest(1, cardinality(months) - 11):], ',') months, to_char(months_from + make_interval(months => cardinality(months) - 1), 'YYYY-MM') "monthsEnd",
       cpc, bid_low "bidLow", bid_high "bidHigh", competition, mobile_share "mobileShare", worldwide, state,
         fetched_at::date::text "fetchedOn", source, trend, yearly, season, array_to_string(peaks, '|') peaks,
         rounded, low, high,
       cpc_source || '|' || cpc_at::date "cpcFrom",
         competition_source || '|' || competition_at::date "competitionFrom"`,
      'and d.place = $3 limit 1',
      [place],
    ),
    ask<MatchRow>('match', 'exact, in_order "inOrder", any_order "anyOrder", source', 'and d.place = $3 limit 1', [
      place,
    ]),
    ask<WeighingRow>(
      'weighing',
      `difficulty, chance3, chance10, chance20, likely_from "likelyFrom", likely_to "likelyTo",
       page_position "pagePosition", page_chance "pageChance", page_higher "pageHigher", lacking, reported, levels,
       own_level "ownLevel", organic_share "organicShare", paid_share "paidShare", state,
       fetched_on::text "fetchedOn"`,
      'and d.market_id = $3 limit 1',
      [marketId],
    ),
    ask<LogRow>('log', 'searches, impressions, clicks, position, days', 'and d.place = $3 limit 1', [place]),
    ask<FoundRow>(
      'found',
      `string_agg(distinct d.gathering_id || ':' || d.way, '|') filter (where g.pruned_at is null) found,
        bool_or(g.pruned_at is not null) pruned`,
      'having count(*) > 0',
      [],
      'join gathering g on g.site_id = d.site_id and g.id = d.gathering_id',
    ),
    ask<{ id: number; title: string }>(
      'page',
      'p.title',
      'limit 1',
      [],
      'join page_plan p on p.site_id = d.site_id and p.id = d.page_id and p.removed_at is null',
    ),
    ask<{ id: number; slot: number }>('slot', 'slot', 'and d.active limit 1'),
    ask<{ id: number; lists: string | null; labels: string | null }>(
      'lists',
      `string_agg(l.id::text, '|') filter (where l.kind = 'shortlist') lists,
       string_agg(l.name, '|' order by lower(l.name)) filter (where l.kind = 'label') labels`,
      'having count(*) > 0',
      [],
      'join list l on l.site_id = d.site_id and l.id = d.list_id',
    ),
    ask<{ id: number; theme: string }>(
      'theme',
      `${themeName} theme`,
      'and g.market_id = $3 limit 1',
      [marketId],
      `join keyword_grouping g on g.site_id = d.site_id and g.id = d.grouping_id and g.is_current
         and g.removed_at is null
       join theme t on t.site_id = d.site_id and t.id = d.theme_id
       join keyword l on l.site_id = d.site_id and l.id = t.lead_id`,
    ),
    ask<{ id: number; free: number; names: string | null }>(
      'names',
      "count(*) filter (where free)::integer free, string_agg(name, '|' order by name) filter (where free) names",
      'having count(*) > 0',
    ),
    ask<{ id: number; text: number | null; titles: number | null }>(
      'count',
      'in_text "text", in_titles titles',
      'and d.market_id = $3 limit 1',
      [marketId],
    ),
    ask<{ id: number; results: number; day: string }>(
      'head',
      'results, day::text "day"',
      'and d.market_id = $3 limit 1',
      [marketId],
    ),
  ])
  return { demand, match, weighing, log, found, page, slot, lists, theme, names, count, head }
}
