import type { Target } from '@dew-trail/core/rivals/target'
import type { Coverage, RivalSite } from '@dew-trail/contract/rivals'
import type { PageFeatures } from '../../domain/chances/queries.ts'
import { textKey } from '../../domain/pages/page-key.ts'
import type { Db } from '../../platform/db/pool.ts'

/** A market of a site, with what results and demand are looked up by. */
export type InMarket = { siteId: number; marketId: number; place: string }

/** Of how many keywords results are known in a market, of which days, and by whom. */
export async function oneCoverage(
  db: Db,
  { siteId, marketId }: InMarket,
  domains: readonly string[],
): Promise<Coverage> {
  const { rows } = await db.query<{ source: string; keywords: number; from: string; to: string; depth: number }>(
    `select source, count(*)::integer keywords, min(day)::text "from", max(day)::text "to", max(depth) depth
     from result_head where site_id = $1 and market_id = $2 group by 1 order by 1`,
    [siteId, marketId],
  )
  const { rows: loads } = await db.query<{ source: string; keywords: number; to: string }>(
    `select l.edition source, max(l.keywords)::integer keywords, max(l.as_of)::text "to" from ranking_load l
     join result_site s on s.site_id = $1 and s.id = l.on_site and s.domain = any($3)
     where l.site_id = $1 and l.market_id = $2 and l.edition <> 'paid' group by 1 order by 1 desc`,
    [siteId, marketId, domains],
  )
  const { rows: fedSites } = await db.query<{ domain: string }>(
    `select distinct s.domain from ranking_load l join result_site s on s.site_id = $1 and s.id = l.on_site
     where l.site_id = $1 and l.market_id = $2 and l.edition <> 'paid' and s.domain = any($3)`,
    [siteId, marketId, domains],
  )
  const days = rows.map(row => row.from).sort()
  return {
    keywords: rows.reduce((sum, row) => sum + row.keywords, 0),
    from: days[0] ?? null,
    to:
      rows
        .map(row => row.to)
        .sort()
        .at(-1) ?? null,
    depth: Math.max(0, ...rows.map(row => row.depth)),
    fed: Math.max(0, ...loads.map(load => load.keywords)),
    notFed: [...new Set(domains)].filter(domain => !fedSites.some(row => row.domain === domain)),
    sources: [...rows.map(({ source, keywords, to }) => ({ source, keywords, to })), ...loads],
  }
}

/** What rows of results a target stands for: those of a site by its number, those of a host, folder or page by their pages. */
type Filter = { sql: string; value: number | number[] }
/** `null` where the target stands for nothing that is known. */
export async function maybeFilter(db: Db, siteId: number, target: Target): Promise<Filter | null> {
  const site = await db.query<{ id: number }>('select id from result_site where site_id = $1 and domain = $2', [
    siteId,
    target.domain,
  ])
  const onSite = site.rows[0]?.id
  if (onSite === undefined) return null
  if (target.kind === 'site') return { sql: 'r.on_site = $3', value: onSite }
  // The identity is what follows the scheme; addresses are kept as they were first written, in lower case up to their path.
  const start = target.match.replace(/[%_\\]/g, '\\$&')
  const { rows } = await db.query<{ id: number }>(
    `select id from result_address where site_id = $1 and on_site = $2
       and ($3::uuid is null or key = $3) and ($4::text is null or regexp_replace(url, '^https?://', '', 'i') like $4)`,
    [
      siteId,
      onSite,
      target.kind === 'page' ? textKey(target.match) : null,
      target.kind === 'page' ? null : target.kind === 'host' ? `${start}/%` : `${start}%`,
    ],
  )
  return { sql: 'r.page_id = any($3)', value: rows.map(row => row.id) }
}

/** Pages of one site that stand within this compete with each other; further down they are in nobody's way. */
const near = 20

export type RankingRow = {
  id: number
  phrase: string
  now: number | null
  before: number | null
  /** Whether the keyword has results before the latest, so that what entered is known. */
  compared: boolean
  /** Told by the rankings feed: no results of the keyword were fetched. */
  fed: boolean
  pageId: number
  pages: number
  searches: number | null
  cpc: number | null
  own: number | null
  difficulty: number | null
  chance10: number | null
  organicShare: number | null
  kept: boolean
  tracked: boolean
}
/**
 * Rows in which a target stands or stood before: from results that were fetched, and from the feed for keywords whose results were not.
 * A keyword that nobody gathered has the negative of its known id. `filter` uses $3; $1, $2 are site and market.
 */
const standingSql = (filter: string): string =>
  `select r.keyword_id id, r.now, r.before, r.page_id from result_row r
   where r.site_id = $1 and r.market_id = $2 and ${filter}
   union all
   select coalesce(k.id, -n.id)::integer, r.position, null, r.page_id from known_ranking r
   join known_keyword n on n.site_id = $1 and n.id = r.known_id
   left join keyword k on k.site_id = $1 and k.language = n.language and k.phrase = n.phrase
   where r.site_id = $1 and r.market_id = $2 and ${filter}
     and not exists (select from result_head h where h.site_id = $1 and h.market_id = $2 and h.keyword_id = k.id)`

/** Keywords for which a target stands, or stood before, with what visits are worked out from. Any order. */
export async function manyRankings(
  db: Db,
  { siteId, marketId, place }: InMarket,
  filter: Filter,
  ownDomain: string,
): Promise<RankingRow[]> {
  const { rows } = await db.query<RankingRow>(
    `with own as materialized (
       select id, min(now) own from (
         ${standingSql('r.on_site = (select id from result_site where site_id = $1 and domain = $5)')}
       ) o where now is not null group by 1
     )
     select r.id, coalesce(k.phrase, n.phrase) phrase, r.now, r.before, h.before_day is not null compared,
       h.keyword_id is null fed, r.page_id "pageId", r.pages::integer pages, coalesce(d.average, n.searches) searches,
       coalesce(d.cpc, n.cpc) cpc, own.own, w.difficulty, w.chance10, w.organic_share "organicShare",
       k.kept_at is not null kept, coalesce(t.active, false) tracked
     from (
       select id, min(now) now, min(before) before, (array_agg(page_id order by now nulls last, before))[1] page_id,
         count(*) filter (where now <= ${near}) pages
       from (${standingSql(filter.sql)}) s group by 1
     ) r
     left join keyword k on k.site_id = $1 and k.id = r.id
     left join known_keyword n on n.site_id = $1 and n.id = -r.id
     left join result_head h on h.site_id = $1 and h.market_id = $2 and h.keyword_id = r.id
     left join demand d on d.site_id = $1 and d.keyword_id = r.id and d.place = $4
     left join weighing w on w.site_id = $1 and w.keyword_id = r.id and w.market_id = $2 and w.state = 'known'
     left join tracked_keyword t on t.site_id = $1 and t.keyword_id = r.id
     left join own on own.id = r.id`,
    [siteId, marketId, filter.value, place, ownDomain],
  )
  return rows
}

/** Addresses of pages by their numbers. */
export async function manyAddresses(db: Db, siteId: number, pageIds: readonly number[]): Promise<Map<number, string>> {
  const { rows } = await db.query<{ id: number; url: string }>(
    'select id, url from result_address where site_id = $1 and id = any($2)',
    [siteId, pageIds],
  )
  return new Map(rows.map(row => [row.id, row.url]))
}
/** What the latest weighed first pages of keywords show, by keyword; those that were not weighed are left out. */
export async function manyFeatures(
  db: Db,
  { siteId, marketId }: InMarket,
  keywordIds: readonly number[],
): Promise<Map<number, PageFeatures>> {
  const { rows } = await db.query<{ id: number; features: PageFeatures }>(
    `select distinct on (keyword_id) keyword_id::integer id, features from result_page
     where site_id = $1 and market_id = $2 and keyword_id = any($3) order by keyword_id, fetched_on desc`,
    [siteId, marketId, keywordIds],
  )
  return new Map(rows.map(row => [row.id, row.features]))
}
/** Keywords that the own query log names in the market's place; null where no log is loaded. */
export async function maybeLogged(db: Db, { siteId, place }: InMarket): Promise<Set<number> | null> {
  const { rows } = await db.query<{ id: number }>(
    'select keyword_id::integer id from log_sum where site_id = $1 and place = $2',
    [siteId, place],
  )
  return rows.length ? new Set(rows.map(row => row.id)) : null
}
/** What link feeds know of pages, and which planned page stands at their address. */
export async function manyPageFacts(
  db: Db,
  siteId: number,
  pageIds: readonly number[],
): Promise<Map<number, { linkingSites: number | null; planned: string | null }>> {
  const { rows } = await db.query<{ id: number; linkingSites: number | null; planned: string | null }>(
    `select a.id, f.linking_sites "linkingSites", p.title planned from result_address a
     left join page_fact f on f.key = a.key
     left join page_plan p on p.site_id = $1 and p.page_key = a.key and p.removed_at is null
     where a.site_id = $1 and a.id = any($2)`,
    [siteId, pageIds],
  )
  return new Map(rows.map(({ id, ...row }) => [id, row]))
}
/** Key of the page on whose plan keywords stand, where it has an address, by keyword. */
export async function manyPlannedKeys(
  db: Db,
  siteId: number,
): Promise<Map<number, { key: string | null; title: string }>> {
  const { rows } = await db.query<{ keywordId: number; key: string | null; title: string }>(
    `select k.keyword_id "keywordId", p.page_key key, p.title from page_plan_keyword k
     join page_plan p on p.site_id = k.site_id and p.id = k.page_id and p.removed_at is null where k.site_id = $1`,
    [siteId],
  )
  return new Map(rows.map(({ keywordId, ...row }) => [keywordId, row]))
}

export type BesideRow = {
  domain: string
  keywords: number
  above: number
  within10: number
  visits: number
  lost: number
  all: number
}
/**
 * Sites that stand within the first twenty for keywords: for those that are kept (`kept`) or all that a site stands for. `clicks`: share
 * of clicks by position, the first being `clicks[0]`. Those that take most above the site come first.
 */
export async function manyBeside(
  db: Db,
  { siteId, marketId, place }: InMarket,
  ofDomain: string,
  kept: boolean,
  clicks: readonly number[],
  most: number,
): Promise<{ rows: BesideRow[]; keywords: number }> {
  const { rows } = await db.query<BesideRow & { total: number }>(
    `with own as materialized (
       select keyword_id, min(now) now from result_row where site_id = $1 and market_id = $2 and now is not null
         and on_site = (select id from result_site where site_id = $1 and domain = $4) group by 1
     ), wanted as materialized (
       select h.keyword_id id, d.average searches, own.now own from result_head h
       join keyword k on k.site_id = $1 and k.id = h.keyword_id
       left join own on own.keyword_id = h.keyword_id
       left join demand d on d.site_id = $1 and d.keyword_id = h.keyword_id and d.place = $3
       where h.site_id = $1 and h.market_id = $2
         and case when $5 then k.kept_at is not null else own.now is not null end
     ), best as (
       select r.keyword_id, r.on_site, min(r.now) now from wanted w
       join result_row r on r.site_id = $1 and r.market_id = $2 and r.keyword_id = w.id and r.now <= 20 group by 1, 2
     ), summed as (
       select b.on_site, count(*) keywords, count(*) filter (where w.own is null or b.now < w.own) above,
         count(*) filter (where b.now <= 10) within10,
         coalesce(sum(w.searches * ($6::real[])[b.now]), 0) visits,
         coalesce(sum(w.searches * ($6::real[])[b.now]) filter (where w.own is null or b.now < w.own), 0) lost
       from best b join wanted w on w.id = b.keyword_id group by 1
     )
     select s.domain, m.keywords::integer keywords, m.above::integer above, m.within10::integer within10, m.visits, m.lost,
       (select sum(visits) from summed) "all", (select count(*) from wanted)::integer total
     from summed m join result_site s on s.site_id = $1 and s.id = m.on_site
     where s.domain <> $4 order by m.lost desc, m.keywords desc, s.domain collate "C" limit $7`,
    [siteId, marketId, place, ofDomain, kept, clicks, most],
  )
  return { rows, keywords: rows[0]?.total ?? 0 }
}
export async function manyRivalStates(db: Db, siteId: number): Promise<Map<string, RivalSite['state']>> {
  const { rows } = await db.query<{ domain: string; state: 'accepted' | 'aside' }>(
    'select domain, state from rival where site_id = $1 order by domain',
    [siteId],
  )
  return new Map(rows.map(row => [row.domain, row.state]))
}
/** Sets what was decided about a site; "proposed" takes the decision back. Gives what it was before. */
export async function setRivalState(
  db: Db,
  siteId: number,
  domain: string,
  state: RivalSite['state'],
): Promise<RivalSite['state']> {
  const before = (await manyRivalStates(db, siteId)).get(domain) ?? 'proposed'
  if (state === 'proposed') await db.query('delete from rival where site_id = $1 and domain = $2', [siteId, domain])
  else
    await db.query(
      `insert into rival (site_id, domain, state) values ($1, $2, $3)
       on conflict (site_id, domain) do update set state = excluded.state`,
      [siteId, domain, state],
    )
  return before
}

export type OverlapOf = 'organic' | 'paid'
type Bit = { filter: Filter; bit: number }
const bitsOf = (filters: readonly (Filter | null)[]): Bit[] =>
  filters.flatMap((filter, i) => (filter ? [{ filter, bit: 1 << i }] : []))
/** What a site pays for, as rows of results: the position is that of its advertisement. */
const paidSql = (site: string): string =>
  `select coalesce(k.id, -n.id)::integer id, r.position "now", 0 page_id, r.spend from known_paid r
   join known_keyword n on n.site_id = $1 and n.id = r.known_id
   left join keyword k on k.site_id = $1 and k.language = n.language and k.phrase = n.phrase
   where r.site_id = $1 and r.market_id = $2 and r.on_site = ${site}`
/** Rows of several targets within position $3, with the bit of each: what regions are made of. Values begin at $5. */
const besideEachOther = (targets: readonly Bit[], of: OverlapOf): string =>
  targets
    .map(({ filter, bit }, i) => {
      const value = `$${5 + i}`
      const rows =
        of === 'paid'
          ? paidSql(value)
          : `select *, null::real spend from (${standingSql(filter.sql).replaceAll('$3', value)}) o${i}`
      return `select id keyword_id, ${bit} bit, now, page_id, spend from (${rows}) s${i} where now <= $3`
    })
    .join(' union all ')

export type RegionRow = { mask: number; keywords: number; searches: number; unknown: number }
export async function manyRegions(
  db: Db,
  { siteId, marketId, place }: InMarket,
  filters: readonly (Filter | null)[],
  within: number,
  of: OverlapOf,
): Promise<RegionRow[]> {
  const targets = bitsOf(filters)
  if (!targets.length) return []
  const { rows } = await db.query<RegionRow>(
    `select m.mask, count(*)::integer keywords, coalesce(sum(coalesce(d.average, n.searches)), 0)::float8 searches,
       count(*) filter (where d.average is null and n.searches is null)::integer unknown
     from (select keyword_id, bit_or(bit) mask from (${besideEachOther(targets, of)}) b group by 1) m
     left join demand d on d.site_id = $1 and d.keyword_id = m.keyword_id and d.place = $4
     left join known_keyword n on n.site_id = $1 and n.id = -m.keyword_id
     group by 1 order by keywords desc, mask`,
    [siteId, marketId, within, place, ...targets.map(each => each.filter.value)],
  )
  return rows
}
export type OverlapRow = {
  id: number
  phrase: string
  searches: number | null
  cpc: number | null
  bidLow: number | null
  bidHigh: number | null
  difficulty: number | null
  chance3: number | null
  chance10: number | null
  chance20: number | null
  organicShare: number | null
  kept: boolean
  tracked: boolean
  spend: number | null
  /** How many rows there are, of which `most` are given. */
  total: number
  bits: number[]
  positions: number[]
  pages: number[]
}
/** Keywords of regions; `masks` null: those where the first target is not within ten and another is. At most `most`. */
export async function manyOverlapRows(
  db: Db,
  { siteId, marketId, place }: InMarket,
  filters: readonly (Filter | null)[],
  within: number,
  of: OverlapOf,
  masks: readonly number[] | null,
  most: number,
): Promise<OverlapRow[]> {
  const targets = bitsOf(filters)
  if (!targets.length) return []
  const at = 5 + targets.length
  const { rows } = await db.query<OverlapRow>(
    `select m.keyword_id id, coalesce(k.phrase, n.phrase) phrase, coalesce(d.average, n.searches) searches,
       coalesce(d.cpc, n.cpc) cpc, d.bid_low "bidLow", d.bid_high "bidHigh", w.difficulty,
       w.chance3, w.chance10, w.chance20, w.organic_share "organicShare", k.kept_at is not null kept,
       coalesce(t.active, false) tracked, m.spend, m.bits, m.positions, m.pages, count(*) over ()::integer total
     from (
       select keyword_id, bit_or(bit) mask, min(now) filter (where bit = 1) own, min(now) filter (where bit > 1) other,
         array_agg(bit order by now) bits, array_agg(now::integer order by now) positions,
         array_agg(page_id order by now) pages, sum(spend) spend
       from (${besideEachOther(targets, of)}) b group by 1
     ) m
     left join keyword k on k.site_id = $1 and k.id = m.keyword_id
     left join known_keyword n on n.site_id = $1 and n.id = -m.keyword_id
     left join demand d on d.site_id = $1 and d.keyword_id = m.keyword_id and d.place = $4
     left join weighing w on w.site_id = $1 and w.keyword_id = m.keyword_id and w.market_id = $2 and w.state = 'known'
     left join tracked_keyword t on t.site_id = $1 and t.keyword_id = m.keyword_id
     where case when $${at}::integer[] is null then (m.own is null or m.own > 10) and m.other <= 10
       else m.mask = any($${at}) end
     order by coalesce(d.average, n.searches) desc nulls last, m.keyword_id limit $${at + 1}`,
    [siteId, marketId, within, place, ...targets.map(each => each.filter.value), masks, most],
  )
  return rows
}
