import { nextKeywordId, nextRevision } from '../../platform/db/site-partition.ts'
import type { Intent } from '@dew-trail/core/words/intent'
import type { KeywordKind } from '@dew-trail/core/words/keyword-kind'
import type { PageText } from '@dew-trail/core/words/page-phrases'
import { type Gathering, type GatherConditions, gatherConditions } from '@dew-trail/contract/gather'
import { noteFiguresChange } from '../../platform/db/figures-change.ts'
import { settleHiddenDemand } from './hidden-demand.ts'
import { saveReportedMatches, type ReportedMatch } from './reported-matches.ts'
import type { Db } from '../../platform/db/pool.ts'
import { shareKeywordIds, touchAllKeywords } from '../sites/queries.ts'

export type GatheringRow = {
  id: number
  siteId: number
  marketId: number
  seed: string
  ways: string[]
  mostIdeas: number
  found: number
  conditions: GatherConditions
}
export type NewKeyword = {
  phrase: string
  family: string
  kind: KeywordKind
  intent: Intent
  intentShare: number
  words: number
}
export type NewDemand = {
  keywordId: number
  state: 'known' | 'nothing' | 'failed'
  monthsFrom: string | null
  months: number[] | null
  average: number | null
  cpc: number | null
  bidLow: number | null
  bidHigh: number | null
  competition: number | null
  /** Share of the searches made on mobile phones, 0–1. */
  mobileShare: number | null
  /** Searches a month in all countries together. */
  worldwide: number | null
  trend: string | null
  yearly: number | null
  season: number | null
  peaks: number[] | null
  rounded: boolean | null
  low: number | null
  high: number | null
  /** By match; null: the source tells none. */
  match: ReportedMatch | null
}

export async function insertGathering(
  db: Db,
  row: {
    siteId: number
    marketId: number
    parentId: number | null
    seed: string
    ways: string[]
    mostIdeas: number
    conditions?: GatherConditions
  },
): Promise<number> {
  const { rows } = await db.query<{ id: number }>(
    `insert into gathering (site_id, market_id, parent_id, seed, ways, most_ideas, conditions)
      values ($1, $2, $3, $4, $5, $6, $7) returning id`,
    [row.siteId, row.marketId, row.parentId, row.seed, row.ways, row.mostIdeas, row.conditions ?? {}],
  )
  return rows[0]!.id
}
/** Takes away a gathering that never began. */
export async function removeGathering(db: Db, siteId: number, gatheringId: number): Promise<void> {
  await db.query('delete from gathering where site_id = $1 and id = $2 and job_id is null', [siteId, gatheringId])
}
export async function setGatheringJob(db: Db, siteId: number, gatheringId: number, jobId: number): Promise<void> {
  await db.query('update gathering set job_id = $3 where site_id = $1 and id = $2', [siteId, gatheringId, jobId])
}
export async function oneGathering(db: Db, siteId: number, gatheringId: number): Promise<GatheringRow> {
  const { rows } = await db.query<GatheringRow>(
    `select id, site_id "siteId", market_id "marketId", seed, ways, most_ideas "mostIdeas", found, conditions
      from gathering where site_id = $1 and id = $2`,
    [siteId, gatheringId],
  )
  return { ...rows[0]!, conditions: gatherConditions.parse(rows[0]!.conditions) }
}
export async function manyGatherings(db: Db, siteId: number): Promise<Gathering[]> {
  const { rows } = await db.query<
    Omit<Gathering, 'startedAt' | 'warnings' | 'conditions'> & {
      startedAt: Date
      warnings: Record<string, number>
      conditions: object
    }
  >(
    `select g.id, g.parent_id "parentId", g.seed, g.market_id "marketId", g.ways, g.found, g.started_at "startedAt",
      g.job_id "jobId", coalesce(j.state, 'done') state, coalesce(j.warnings, '{}') warnings,
       g.conditions, g.dropped, g.short, g.pruned_at is not null pruned
     from gathering g left join job j on j.id = g.job_id where g.site_id = $1 order by g.id`,
    [siteId],
  )
  return rows.map(row => ({
    ...row,
    startedAt: row.startedAt.toISOString(),
    conditions: gatherConditions.parse(row.conditions),
    warnings: Object.entries(row.warnings).map(([what, times]) => ({ what, times })),
  }))
}

/** Adds keywords that are not there yet and gives the ids of all, by phrase. Call under the site's lock. */
export async function upsertKeywords(
  db: Db,
  siteId: number,
  language: string,
  keywords: NewKeyword[],
): Promise<Map<string, number>> {
  await shareKeywordIds(db, siteId)
  await db.query(
    `insert into keyword (site_id, id, revision, language, phrase, family, kind, intent, intent_share, words)
     select $1, ${nextKeywordId(siteId)}, ${nextRevision(siteId)}, $2, k.*
       from unnest($3::text[], $4::text[], $5::text[], $6::text[], $7::real[], $8::smallint[]) k
       on conflict (site_id, language, phrase) do nothing`,
    [
      siteId,
      language,
      keywords.map(k => k.phrase),
      keywords.map(k => k.family),
      keywords.map(k => k.kind),
      keywords.map(k => k.intent),
      keywords.map(k => k.intentShare),
      keywords.map(k => k.words),
    ],
  )
  await noteFiguresChange(db, siteId)
  return manyIdsByPhrase(
    db,
    siteId,
    language,
    keywords.map(k => k.phrase),
  )
}
/** Ids of those of some phrases that are keywords of the site, by phrase. */
export async function manyIdsByPhrase(
  db: Db,
  siteId: number,
  language: string,
  phrases: readonly string[],
): Promise<Map<string, number>> {
  const { rows } = await db.query<{ id: number; phrase: string }>(
    'select id, phrase from keyword where site_id = $1 and language = $2 and phrase = any($3) order by id',
    [siteId, language, phrases],
  )
  return new Map(rows.map(row => [row.phrase, row.id]))
}
/**
 * Notes that a list is one of the ways by which keywords came: `importId` the import that brought it, null where no file did. Of keywords that
 * another list brought before none is alone.
 */
export async function markImported(
  db: Db,
  siteId: number,
  keywordIds: number[],
  importId: number | null,
): Promise<void> {
  await db.query(
    `update keyword set imported = true, import_id = case when not imported then $3::integer end
     where site_id = $1 and id = any($2)`,
    [siteId, keywordIds, importId],
  )
}
export async function insertFindings(
  db: Db,
  siteId: number,
  gatheringId: number,
  way: string,
  keywordIds: number[],
): Promise<void> {
  await db.query(
    `insert into finding (site_id, keyword_id, gathering_id, way) select $1, unnest($2::bigint[]), $3, $4
      on conflict do nothing`,
    [siteId, keywordIds, gatheringId, way],
  )
}
export async function countFound(db: Db, siteId: number, gatheringId: number): Promise<number> {
  const { rows } = await db.query<{ found: number }>(
    `update gathering set found = (select count(distinct keyword_id) from finding where site_id = $1
      and gathering_id = $2) where site_id = $1 and id = $2 returning found`,
    [siteId, gatheringId],
  )
  return rows[0]!.found
}
export async function setShort(db: Db, siteId: number, gatheringId: number, short: Gathering['short']): Promise<void> {
  await db.query('update gathering set short = $3 where site_id = $1 and id = $2', [
    siteId,
    gatheringId,
    JSON.stringify(short),
  ])
}
export async function setDropped(
  db: Db,
  siteId: number,
  gatheringId: number,
  dropped: Record<string, number>,
): Promise<void> {
  await db.query('update gathering set dropped = $3 where site_id = $1 and id = $2', [siteId, gatheringId, dropped])
}
/** Prunes a branch of the path, or puts it back. Gives the ids of its gatherings; none when there is no such gathering. */
export async function setPruned(db: Db, siteId: number, gatheringId: number, pruned: boolean): Promise<number[]> {
  const { rows } = await db.query<{ id: number }>(
    `with recursive branch as (
       select id from gathering where site_id = $1 and id = $2
       union all select g.id from gathering g join branch b on g.site_id = $1 and g.parent_id = b.id
     )
     select id from branch`,
    [siteId, gatheringId],
  )
  return markPruned(
    db,
    siteId,
    rows.map(row => row.id),
    pruned,
  )
}
/** Takes gatherings off the path or puts them back, and gives those that were otherwise before. */
export async function markPruned(db: Db, siteId: number, ids: readonly number[], pruned: boolean): Promise<number[]> {
  const { rows } = await db.query<{ id: number }>(
    `update gathering set pruned_at = case when $3 then now() end
     where site_id = $1 and id = any($2) and (pruned_at is not null) <> $3 returning id`,
    [siteId, ids, pruned],
  )
  return rows.map(row => row.id)
}
/** Gives the keywords of gatherings new revisions; call under `lockSite`. */
export async function touchFound(db: Db, siteId: number, gatheringIds: number[]): Promise<void> {
  await db.query(
    `update keyword k set revision = ${nextRevision(siteId)} where k.site_id = $1
      and exists (select 1 from finding f where f.site_id = $1 and f.keyword_id = k.id and f.gathering_id = any($2))`,
    [siteId, gatheringIds],
  )
}
/** Saves figures of a place. A failed request never replaces figures that are known. */
export async function upsertDemand(
  db: Db,
  siteId: number,
  place: string,
  source: string,
  rows: NewDemand[],
): Promise<void> {
  if (!rows.length) return
  await db.query(
    `insert into demand (site_id, keyword_id, place, source, state, months_from, months, average, cpc, bid_low,
      bid_high, competition, mobile_share, worldwide, trend, yearly, season, peaks, rounded, low, high, fetched_at)
     select $1, id, $2, $3, state, months_from, string_to_array(months, ',')::integer[],
       coalesce(mean_of_last_months(string_to_array(months, ',')::integer[],
         (select average_months from site where id = $1)), average), cpc, bid_low,
       bid_high, competition, mobile_share, worldwide, trend, yearly, season,
       string_to_array(peaks, ',')::smallint[], rounded, low, high, now()
     from unnest($4::bigint[], $5::text[], $6::date[], $7::text[], $8::real[], $9::real[], $10::real[],
       $11::real[], $12::real[], $13::real[], $14::real[], $15::text[], $16::real[], $17::real[], $18::text[],
       $19::boolean[], $20::real[], $21::real[])
       as t (id, state, months_from, months, average, cpc, bid_low, bid_high, competition, mobile_share,
         worldwide, trend, yearly, season, peaks, rounded, low, high)
     on conflict (site_id, keyword_id, place) do update set source = excluded.source, state = excluded.state,
       months_from = excluded.months_from, months = excluded.months, average = excluded.average,
       cpc = excluded.cpc, bid_low = excluded.bid_low, bid_high = excluded.bid_high,
         competition = excluded.competition, mobile_share = excluded.mobile_share, worldwide = excluded.worldwide,
       trend = excluded.trend, yearly = excluded.yearly, season = excluded.season, peaks = excluded.peaks,
         rounded = excluded.rounded, low = excluded.low, high = excluded.high, fetched_at = excluded.fetched_at,
       cpc_source = null, cpc_at = null, competition_source = null, competition_at = null
     where excluded.state <> 'failed' or demand.state <> 'known'`,
    [
      siteId,
      place,
      source,
      rows.map(r => r.keywordId),
      rows.map(r => r.state),
      rows.map(r => r.monthsFrom),
      rows.map(r => r.months?.join(',') ?? null),
      rows.map(r => r.average),
      rows.map(r => r.cpc),
      rows.map(r => r.bidLow),
      rows.map(r => r.bidHigh),
      rows.map(r => r.competition),
      rows.map(r => r.mobileShare),
      rows.map(r => r.worldwide),
      rows.map(r => r.trend),
      rows.map(r => r.yearly),
      rows.map(r => r.season),
      rows.map(r => r.peaks?.join(',') ?? null),
      rows.map(r => r.rounded),
      rows.map(r => r.low),
      rows.map(r => r.high),
    ],
  )
  await saveReportedMatches(db, siteId, place, rows)
  await settleHiddenDemand(
    db,
    siteId,
    rows.map(r => r.keywordId),
  )
  await noteFiguresChange(db, siteId)
}
/** Takes the mean of so many months in place of that which was, for all keywords of a site whose months are known. Call under `lockSite`. */
export async function setAveragePeriod(db: Db, siteId: number, period: number): Promise<void> {
  await db.query('update site set average_months = $2 where id = $1', [siteId, period])
  await db.query(
    `update demand set average = mean_of_last_months(months, $2) where site_id = $1
       and average is distinct from mean_of_last_months(months, $2) and mean_of_last_months(months, $2) is not null`,
    [siteId, period],
  )
  await settleHiddenDemand(db, siteId)
  await touchAllKeywords(db, siteId)
  await noteFiguresChange(db, siteId)
}
/** Monthly figures of up to 500 keywords that the ads data gave. */
export async function manyMonthValues(db: Db, siteId: number): Promise<number[]> {
  const { rows } = await db.query<{ value: number }>(
    `select unnest(months) value from (select months from demand where site_id = $1 and source = 'ads'
      and months is not null limit 500) d`,
    [siteId],
  )
  return rows.map(row => row.value)
}
/** Keywords of a gathering without figures for a place, with the last failed ones. */
export async function manyWithoutDemand(
  db: Db,
  siteId: number,
  gatheringId: number,
  place: string,
): Promise<Array<{ id: number; phrase: string }>> {
  const { rows } = await db.query<{ id: number; phrase: string }>(
    `select k.id, k.phrase from keyword k where k.site_id = $1 and exists (select 1 from finding f
      where f.site_id = $1 and f.keyword_id = k.id and f.gathering_id = $2)
     and not exists (select 1 from demand d where d.site_id = $1 and d.keyword_id = k.id and d.place = $3
       and d.state <> 'failed') order by k.id`,
    [siteId, gatheringId, place],
  )
  return rows
}
/** The most searched keywords of a gathering. */
export async function manyTopPhrases(
  db: Db,
  siteId: number,
  gatheringId: number,
  place: string,
  most: number,
): Promise<string[]> {
  const { rows } = await db.query<{ phrase: string }>(
    `select k.phrase from keyword k join demand d on d.site_id = k.site_id and d.keyword_id = k.id
      and d.place = $3 where k.site_id = $1 and d.searches > 0
     and exists (select 1 from finding f where f.site_id = $1 and f.keyword_id = k.id and f.gathering_id = $2)
       order by d.searches desc, k.phrase limit $4`,
    [siteId, gatheringId, place, most],
  )
  return rows.map(row => row.phrase)
}
/** Texts of fetched pages of a domain, or of the one page with this key; redirects and pages without text are passed over. */
export async function manyPageTexts(
  db: Db,
  graphId: number,
  domain: string,
  urlKey: string | null,
  most: number,
): Promise<PageText[]> {
  const { rows } = await db.query<PageText>(
    `select c.title, coalesce((select array_agg(h->>'text') from jsonb_array_elements(c.headings) h),
      '{}') headings, c.description, coalesce(c.text, '') "text"
     from linked_site s join linked_page p on p.graph_id = s.graph_id and p.site_id = s.id
       join page_content c on c.graph_id = p.graph_id and c.page_id = p.id
     where s.graph_id = $1 and s.domain = $2 and ($3::uuid is null or p.url_key = $3) and c.status = 200
       and c.words > 0 order by c.fetched_at desc, c.page_id limit $4`,
    [graphId, domain, urlKey, most],
  )
  return rows
}
export async function setKept(db: Db, siteId: number, keywordIds: number[], kept: boolean): Promise<number[]> {
  const { rows } = await db.query<{ id: number }>(
    `update keyword set kept_at = case when $3 then now() end, revision = ${nextRevision(siteId)}
      where site_id = $1 and id = any($2) and (kept_at is not null) <> $3 returning id`,
    [siteId, keywordIds, kept],
  )
  return rows.map(row => row.id)
}

/** Phrases that contain a text, most searched first. */
export async function manyPhrasesWith(
  db: Db,
  siteId: number,
  place: string,
  text: string,
  most: number,
): Promise<string[]> {
  const { rows } = await db.query<{ phrase: string }>(
    `select k.phrase from keyword k left join demand d on d.site_id = k.site_id and d.keyword_id = k.id
      and d.place = $2 where k.site_id = $1 and strpos(k.phrase, $3) > 0 order by d.searches desc nulls last,
      k.phrase limit $4`,
    [siteId, place, text, most],
  )
  return rows.map(row => row.phrase)
}
/** Phrases of the given keywords in one language, in batches to ask for. */
export async function manyPhrases(
  db: Db,
  siteId: number,
  language: string,
  keywordIds: number[],
): Promise<Array<{ id: number; phrase: string }>> {
  return (
    await db.query<{ id: number; phrase: string }>(
      'select id, phrase from keyword where site_id = $1 and language = $2 and id = any($3) order by id',
      [siteId, language, keywordIds],
    )
  ).rows
}
/** Ids of the keywords that a gathering found. */
export async function manyFoundIn(db: Db, siteId: number, gatheringId: number): Promise<number[]> {
  const { rows } = await db.query<{ id: number }>(
    'select distinct keyword_id id from finding where site_id = $1 and gathering_id = $2',
    [siteId, gatheringId],
  )
  return rows.map(row => row.id)
}
/** Which of the given keywords have never been asked about in a place. */
export async function manyNeverAsked(
  db: Db,
  siteId: number,
  place: string,
  language: string,
  keywordIds: number[],
): Promise<number[]> {
  const { rows } = await db.query<{ id: number }>(
    `select k.id from keyword k where k.site_id = $1 and k.language = $3 and k.id = any($4)
      and not exists (select 1 from demand d where d.site_id = $1 and d.keyword_id = k.id and d.place = $2)
      order by k.id`,
    [siteId, place, language, keywordIds],
  )
  return rows.map(row => row.id)
}
