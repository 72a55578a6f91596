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

/** The number of a target's site among those of results, and of which of its pages rows are meant; null: of all. */
export type TargetRows = { siteNumber: number; pages: ReadonlySet<number> | null }
/** `null` where the target's site is not among the results. */
export async function maybeTargetRows(db: Db, siteId: number, target: Target): Promise<TargetRows | null> {
  const site = await db.query<{ id: number }>('select id from result_site where site_id = $1 and domain = $2', [
    siteId,
    target.domain,
  ])
  const siteNumber = site.rows[0]?.id
  if (siteNumber === undefined) return null
  if (target.kind === 'site') return { siteNumber, pages: null }
  // The identity is what follows the scheme; addresses are kept as they were first written, in lower case up to their path.
  const start = target.match.replace(/[%_\\]/g, '\\$&')
  const { rows } = await db.query<{ id: number }>(
    `select id from result_address where site_id = $1 and on_site = $2
       and ($3::uuid is null or key = $3) and ($4::text is null or regexp_replace(url, '^https?://', '',
         'i') like $4)`,
    [
      siteId,
      siteNumber,
      target.kind === 'page' ? textKey(target.match) : null,
      target.kind === 'page' ? null : target.kind === 'host' ? `${start}/%` : `${start}%`,
    ],
  )
  return { siteNumber, pages: new Set(rows.map(row => row.id)) }
}

/** Which of keywords are kept and tracked, by id. */
export async function manyStates(
  db: Db,
  siteId: number,
  keywordIds: readonly number[],
): Promise<{ kept: Set<number>; tracked: Set<number> }> {
  const gathered = keywordIds.filter(id => id > 0)
  const { rows } = await db.query<{ id: number; kept: boolean; tracked: boolean }>(
    `select k.id, k.kept_at is not null kept, coalesce(t.active, false) tracked from keyword k
     left join tracked_keyword t on t.site_id = $1 and t.keyword_id = k.id
     where k.site_id = $1 and k.id = any($2) and (k.kept_at is not null or t.active)`,
    [siteId, gathered],
  )
  return {
    kept: new Set(rows.filter(row => row.kept).map(row => row.id)),
    tracked: new Set(rows.filter(row => row.tracked).map(row => row.id)),
  }
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
  shared: number
  all: number
  ownVisits: number
}
/**
 * Sites that stand within the first twenty for keywords: of those that are kept (`kept`) the ones that take most above the site come first,
 * of all that a site stands for the ones with which it shares most visits. `clicks`: share of clicks by position, 1 to 100.
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
    `with this as (select id from result_site where site_id = $1 and domain = $4), own as materialized (
       select keyword_id, min(now) now from result_row where site_id = $1 and market_id = $2 and now is not null
         and on_site = (select id from this) group by 1
     ), looked as (
       select h.keyword_id::integer id, k.family, d.searches, own.now own from result_head h
       join keyword k on k.site_id = $1 and k.id = h.keyword_id
       left join own on own.keyword_id = h.keyword_id
       left join demand d on d.site_id = $1 and d.keyword_id = h.keyword_id and d.place = $3
       where h.site_id = $1 and h.market_id = $2
         and case when $5 then k.kept_at is not null else own.now is not null end
       union all
       select -n.id, n.family, n.searches, min(r.position) from known_ranking r
       join known_keyword n on n.site_id = $1 and n.id = r.known_id
       where not $5 and r.site_id = $1 and r.market_id = $2 and r.on_site = (select id from this)
         and not exists (select from keyword k join result_head h on h.site_id = $1 and h.market_id = $2
           and h.keyword_id = k.id
           where k.site_id = $1 and k.language = n.language and k.phrase = n.phrase)
       group by n.id, n.family, n.searches
     ), wanted as materialized (
       -- Forms of one keyword have one figure together.
       select id, own, searches / count(*) over (partition by family, searches) searches from looked
     ), best as (
       select r.keyword_id id, r.on_site, min(r.now) now from wanted w
       join result_row r on r.site_id = $1 and r.market_id = $2 and r.keyword_id = w.id and r.now <= 20 group by 1, 2
       union all
       select w.id, r.on_site, min(r.position) from wanted w
       join known_ranking r on r.site_id = $1 and r.market_id = $2 and r.known_id = -w.id and r.position <= 20
       where w.id < 0 group by 1, 2
     ), summed as (
       select b.on_site, count(*) keywords, count(*) filter (where w.own is null or b.now < w.own) above,
         count(*) filter (where b.now <= 10) within10,
         coalesce(sum(w.searches * ($6::real[])[b.now]), 0) visits,
         coalesce(sum(w.searches * ($6::real[])[b.now]) filter (where w.own is null or b.now < w.own), 0) lost,
         coalesce(sum(w.searches * ($6::real[])[greatest(b.now, w.own)]) filter (where w.own is not null), 0) shared
       from best b join wanted w on w.id = b.id group by 1
     )
     select s.domain, m.keywords::integer keywords, m.above::integer above, m.within10::integer within10, m.visits,
       m.lost,
       m.shared, (select sum(visits) from summed) "all",
       (select coalesce(sum(searches * ($6::real[])[own]), 0) from wanted) "ownVisits", (select count(*)
       from wanted)::integer total
     from summed m join result_site s on s.site_id = $1 and s.id = m.on_site
     where s.domain <> $4 order by case when $5 then m.lost else m.shared end desc, m.keywords desc,
       s.domain collate "C" limit $7`,
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
