import { LRUCache } from 'lru-cache'
import type pg from 'pg'
import { figuresVersion } from '../../platform/db/figures-change.ts'
import { packedNumbers } from '../../platform/db/packed.ts'
import { inTransaction } from '../../platform/db/pool.ts'
import type { InMarket } from './queries.ts'

/** Rows of results, or the advertisements that a site pays for: `now` is their position then, and `spend` what it spent in the month. */
export type RankingsOf = 'organic' | 'paid'
/**
 * All rows of results in which a site stands or stood before in a market, column by column in order of keyword and position, with the
 * figures of their keywords. `now`, `before`: 0 = not there. Figures: NaN = unknown. `fed`: told by the rankings feed alone; `compared`:
 * the keyword has results before the latest. A keyword that nobody gathered has the negative of its known id.
 */
export type SiteRankings = {
  count: number
  id: Int32Array
  page: Int32Array
  now: Int16Array
  before: Int16Array
  fed: Uint8Array
  compared: Uint8Array
  /** Hash of the family of the keyword: forms of one keyword for which the ads data may have one figure together. */
  family: Int32Array
  phrases: string[]
  figures: Record<Figure, Float32Array>
}
const figures = [
  'searches',
  'cpc',
  'bidLow',
  'bidHigh',
  'difficulty',
  'chance3',
  'chance10',
  'chance20',
  'organicShare',
  'spend',
] as const
export type Figure = (typeof figures)[number]

/** A figure as it was saved: the shortest decimal that is this number; null = unknown. */
export function figureOf(value: number): number | null {
  if (Number.isNaN(value)) return null
  if (Number.isInteger(value)) return value
  for (let digits = 7; digits < 9; digits++) {
    const short = Number(value.toPrecision(digits))
    if (Math.fround(short) === value) return short
  }
  return Number(value.toPrecision(9))
}

const mostBytes = 400_000_000
/** What took longer than this to read is not read again at each change while a job runs, but after so many times as long. */
const longMs = 1_000
const longTimes = 5

type Held = { version: string; rankings: SiteRankings; atMs: number; tookMs: number }
const held = new WeakMap<pg.Pool, LRUCache<string, Held>>()
const reading = new WeakMap<pg.Pool, Map<string, Promise<Held>>>()

/**
 * The rankings of a site in a market. They stay in memory, those longest unused going first, and are read again when results or figures of
 * the site whose research it is have changed. `siteNumber`: of `result_site`.
 */
export async function readSiteRankings(
  pool: pg.Pool,
  at: InMarket,
  siteNumber: number,
  of: RankingsOf = 'organic',
): Promise<SiteRankings> {
  let cache = held.get(pool)
  if (!cache) held.set(pool, (cache = new LRUCache({ maxSize: mostBytes, sizeCalculation: bytesOf })))
  let running = reading.get(pool)
  if (!running) reading.set(pool, (running = new Map()))
  const key = `${at.siteId}:${at.marketId}:${siteNumber}:${of}`
  const version = await figuresVersion(pool, at.siteId)
  const known = cache.get(key)
  if (known && (known.version === version || isLong(known))) return known.rankings
  const heldAs = `${key}:${version}`
  let read = running.get(heldAs)
  if (!read) {
    read = readHeld(pool, at, siteNumber, of, version).finally(() => running.delete(heldAs))
    running.set(heldAs, read)
  }
  const fresh = await read
  cache.set(key, fresh)
  return fresh.rankings
}
const isLong = ({ tookMs, atMs }: Held): boolean => tookMs > longMs && performance.now() - atMs < tookMs * longTimes

const bytesOf = ({ rankings }: Held): number => 1 + rankings.count * (20 + 4 * figures.length + 40)

async function readHeld(
  pool: pg.Pool,
  at: InMarket,
  siteNumber: number,
  of: RankingsOf,
  version: string,
): Promise<Held> {
  const startedMs = performance.now()
  const rankings = await queryRankings(pool, at, siteNumber, of)
  const atMs = performance.now()
  return { version, rankings, atMs, tookMs: atMs - startedMs }
}

const knownFigures = `case when k.id is null then n.searches end known_searches, case when k.id is null then n.cpc end known_cpc`
const knownJoins = `join known_keyword n on n.site_id = $1 and n.id = r.known_id
           left join keyword k on k.site_id = $1 and k.language = n.language and k.phrase = n.phrase`
const rowsSql: Record<RankingsOf, string> = {
  organic: `select r.keyword_id id, r.now, r.before, r.page_id, k.phrase given, k.family,
             null::real known_searches, null::real known_cpc, false fed, null::real spend
           from result_row r join keyword k on k.site_id = $1 and k.id = r.keyword_id
           where r.site_id = $1 and r.market_id = $2 and r.on_site = $3
           union all
           select coalesce(k.id, -n.id)::integer, r.position, null, r.page_id, n.phrase, n.family, ${knownFigures},
             true, null
           from known_ranking r ${knownJoins}
           where r.site_id = $1 and r.market_id = $2 and r.on_site = $3
             and not exists (select from result_head h
               where h.site_id = $1 and h.market_id = $2 and h.keyword_id = k.id)`,
  paid: `select coalesce(k.id, -n.id)::integer id, r.position now, null::smallint before, 0 page_id, n.phrase given,
             n.family, ${knownFigures}, false fed, r.spend
           from known_paid r ${knownJoins}
           where r.site_id = $1 and r.market_id = $2 and r.on_site = $3`,
}

/** The database packs each column into one value: sending and reading 400,000 rows one by one takes longer than finding them. */
async function queryRankings(pool: pg.Pool, at: InMarket, siteNumber: number, of: RankingsOf): Promise<SiteRankings> {
  const packed = figures.map(name => `string_agg(float4send(coalesce("${name}", 'NaN')), '') "${name}"`)
  const { rows } = await inTransaction(pool, async db => {
    // Sorting on disk takes twice the time.
    await db.query("set local work_mem = '256MB'")
    return db.query<Record<string, Buffer> & { phrases: string; count: number }>({
      text: `select count(*)::integer count, string_agg(int4send(id), '') id, string_agg(int4send(page_id), '') page,
         string_agg(int4send(hashtext(family)), '') family,
         string_agg(int2send(coalesce(now, 0::smallint)), '') now,
         string_agg(int2send(coalesce(before, 0::smallint)), '') before,
         string_agg(case when fed then '\\x01'::bytea else '\\x00' end, '') fed,
         string_agg(case when compared then '\\x01'::bytea else '\\x00' end, '') compared,
         string_agg(phrase, E'\\n') phrases, ${packed.join(', ')}
       from (
         select r.*, r.given phrase, coalesce(d.searches, r.known_searches) searches, coalesce(d.cpc, r.known_cpc) cpc,
           d.bid_low "bidLow", d.bid_high "bidHigh", w.difficulty, w.chance3, w.chance10, w.chance20,
           w.organic_share "organicShare", h.before_day is not null compared
         from (${rowsSql[of]}
         ) r
         left join result_head h on h.site_id = $1 and h.market_id = $2 and h.keyword_id = r.id
         left join demand d on d.site_id = $1 and d.keyword_id = r.id and d.place = $4
         left join weighing w on w.site_id = $1 and w.keyword_id = r.id and w.market_id = $2 and w.state = 'known'
         order by r.id, r.now nulls last, r.before, r.page_id
       ) s`,
      values: [at.siteId, at.marketId, siteNumber, at.place],
    })
  })
  const row = rows[0]!
  const ints = (name: string): Int32Array => new Int32Array(packedNumbers(row[name]!, 4))
  const shorts = (name: string): Int16Array => new Int16Array(packedNumbers(row[name]!, 2))
  const { count } = row
  const empty = Buffer.alloc(0)
  for (const name of ['id', 'page', 'family', 'now', 'before', 'fed', 'compared', ...figures]) row[name] ??= empty
  const phrases = count ? row.phrases.split('\n') : []
  if (phrases.length !== count) throw new Error(`${phrases.length} phrases of ${count} rows`)
  return {
    count,
    id: ints('id'),
    page: ints('page'),
    family: ints('family'),
    now: shorts('now'),
    before: shorts('before'),
    fed: new Uint8Array(row.fed!),
    compared: new Uint8Array(row.compared!),
    phrases,
    figures: Object.fromEntries(
      figures.map(name => [name, new Float32Array(packedNumbers(row[name]!, 4))]),
    ) as SiteRankings['figures'],
  }
}
