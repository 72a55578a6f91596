import type { MakeupStrip } from '@dew-trail/contract/link-lists'
import { countByCode, countByWeek, type SiteSums, sumBySite } from '@dew-trail/core/links/link-sums'
import type pg from 'pg'
import type { Db } from '../../../platform/db/pool.ts'
import { chosenOf, dayNumber, dayText, type LinkPack, memo, memoLater, readPack, scopeKey } from './link-pack.ts'
import { manyLanguageParts } from './link-languages.ts'
import { graphId, latestSql, type LinkScope } from './link-scope.ts'

export type TotalsRow = {
  links: number
  follow: number
  linkingPages: number
  linkingSites: number
  followSites: number
  addresses: number
  subnets: number
  addressed: number
  knownPages: number
  institutions: number
  directories: number
  bands: Array<{ sites: number; trust: number | null }> | null
}
/** Sums of the links of a scope and of the sites that link. Subnets are of 256 addresses (IPv4) or of 64 bits (IPv6). */
export async function oneTotals(pool: pg.Pool, scope: LinkScope): Promise<TotalsRow> {
  const pack = await readPack(pool, scope)
  return memoLater(pack, `totals ${scopeKey(scope, scope.age)}`, () =>
    queryTotals(pool, scope, siteSumsOf(pack, scope)),
  )
}
async function queryTotals(pool: pg.Pool, scope: LinkScope, sums: readonly SiteSums[]): Promise<TotalsRow> {
  const { rows } = await pool.query<
    Omit<TotalsRow, 'links' | 'follow' | 'linkingPages' | 'linkingSites' | 'followSites'>
  >(
    `with sites as materialized (select * from unnest($4::integer[], $5::boolean[]) u (s, follow)),
     placed as (select x.site_id, x.address from sites join site_address x on x.graph_id = $1 and x.site_id = s),
     vetted as (select v.kind from vetted_site v join linked_site d on d.graph_id = $1 and d.domain = v.domain
       join sites on s = d.id where v.graph_id = $1 and not v.refused),
     bands as (select least(4, floor(t.standing / 20))::integer band, count(*)::integer sites, avg(t.trust)::real trust
       from sites join site_standing t on t.graph_id = $1 and t.snapshot_id = ${latestSql} and t.site_id = s
       where follow group by 1)
     select (select count(distinct address)::integer from placed) addresses,
       (select count(distinct set_masklen(address, case family(address) when 4 then 24 else 64 end)::cidr)::integer
         from placed) subnets,
       (select count(distinct site_id)::integer from placed) addressed,
       (select count(*)::integer from linked_page k where k.graph_id = $1 and k.site_id = $2
         and ($3::integer[] is null or k.id = any($3))) "knownPages",
       (select count(*)::integer from vetted where kind = 'institution') institutions,
       (select count(*)::integer from vetted where kind = 'directory') directories,
       case when ${latestSql} is null then null else (select jsonb_agg(jsonb_build_object(
         'sites', coalesce(b.sites, 0), 'trust', b.trust) order by i)
         from generate_series(0, 4) i left join bands b on b.band = i) end bands`,
    [graphId, scope.siteNumber, scope.pages, sums.map(each => each.site), sums.map(each => each.follow > 0)],
  )
  const add = (pick: (sum: SiteSums) => number): number => sums.reduce((total, each) => total + pick(each), 0)
  return {
    links: add(each => each.links),
    follow: add(each => each.follow),
    linkingPages: add(each => each.pages),
    linkingSites: sums.length,
    followSites: add(each => Number(each.follow > 0)),
    ...rows[0]!,
  }
}
/** Regions of a page's frame, which is the same on many pages: navigation, sidebar, footer. */
const framedRegions = new Set([0, 3, 5])
/** Sums of the links of a scope by linking site. */
export const siteSumsOf = (pack: LinkPack, scope: LinkScope): SiteSums[] =>
  memo(pack, `sites ${scopeKey(scope, scope.age)}`, () => sumBySite(pack.links, chosenOf(pack, scope), framedRegions))

export type SiteStanding = {
  standing: number
  trust: number | null
  doubt: number | null
  position: number
  subjects: Array<{ words: string[]; share: number }> | null
}
/** What the latest snapshot says of a site; undefined where it does not know it. Topics below `leastShare` are left out. */
export async function maybeStanding(db: Db, siteNumber: number, leastShare: number): Promise<SiteStanding | undefined> {
  const { rows } = await db.query<SiteStanding>(
    `select t.standing, t.trust, t.doubt, t.position,
       case when t.topic_shares is not null then coalesce((select jsonb_agg(jsonb_build_object(
         'words', g.topics->(at - 1)::integer->'words', 'share', share) order by share desc)
         from unnest(t.topic_shares) with ordinality x (share, at) where share >= $3), '[]') end subjects
     from site_standing t join graph_snapshot g on g.id = t.snapshot_id
     where t.graph_id = $1 and t.snapshot_id = ${latestSql} and t.site_id = $2`,
    [graphId, siteNumber, leastShare],
  )
  return rows[0]
}
/** When the latest snapshot was made and how many sites it ranks; undefined without one. */
export async function maybeRanked(db: Db): Promise<{ madeAt: string; sites: number } | undefined> {
  const { rows } = await db.query<{ madeAt: Date; sites: number }>(
    'select made_at "madeAt", sites from graph_snapshot where graph_id = $1 order by id desc limit 1',
    [graphId],
  )
  return rows[0] && { madeAt: rows[0].madeAt.toISOString(), sites: rows[0].sites }
}

export type StripRow = { strip: MakeupStrip; key: string; links: number; sites: number }
/** What the links of a scope are made of; `state` goes over all that were ever seen, whatever the scope's age. */
export async function manyStripParts(pool: pg.Pool, scope: LinkScope): Promise<StripRow[]> {
  const pack = await readPack(pool, scope)
  const languages = await manyLanguageParts(pool, pack, scope)
  return memo(pack, `strips ${scopeKey(scope, scope.age)}`, () => {
    const { links, homes } = pack
    const count = (strip: MakeupStrip, codeOf: (i: number) => number, keyOf: (code: number) => string): StripRow[] =>
      countByCode(links, chosenOf(pack, scope, strip === 'state' ? 'ever' : scope.age), codeOf)
        .map(({ code, links: own, sites }) => ({ strip, key: keyOf(code), links: own, sites }))
        .sort((a, b) => b.links - a.links)
    return [
      ...count('counts', i => links.rel[i]!, String),
      ...count(
        'lands',
        i => Number(homes.has(links.target[i]!)),
        code => (code ? 'home' : 'inner'),
      ),
      ...count(
        'region',
        i => links.region[i]!,
        code => (code < 0 ? '' : String(code)),
      ),
      ...count(
        'scheme',
        i => links.secure[i]!,
        code => (code ? 'https' : 'http'),
      ),
      ...count('shape', i => links.kind[i]!, String),
      ...count(
        'state',
        i => Number(links.gone[i] !== 0),
        code => (code ? 'gone' : 'there'),
      ),
      ...count('around', i => aroundCode(links.around[i]!), String),
      ...languages.map(part => ({ ...part, strip: 'language' as const })),
    ]
  })
}

/** How much of the words around a link are links: 0 little (under a fifth), 1 some, 2 most of it (over half), −1 unknown. */
const aroundCode = (percent: number): number => (percent === 255 ? -1 : percent < 20 ? 0 : percent <= 50 ? 1 : 2)

export type WeekRow = { week: string | null; gained: number; lost: number; fresh: number }
/**
 * Linking sites by the Monday of the week in which they were first seen, and in which the last of their links went; `fresh`: sites with
 * a new link in it, whether they linked before or not. null = no day is known. Of a link that our crawler alone knows it is known when it was
 * met, not since when it stands.
 */
export async function manyWeeks(pool: pg.Pool, scope: LinkScope): Promise<WeekRow[]> {
  const pack = await readPack(pool, scope)
  return memo(pack, `weeks ${scopeKey(scope, 'ever')}`, () =>
    countByWeek(pack.links, chosenOf(pack, scope, 'ever')).map(row => ({ ...row, week: dayText(row.week) })),
  )
}

export type BurstSources = { page: string | null; pageSites: number; from: string[] }
/**
 * Of the links first seen in each of some weeks (their Mondays), by week: the page that most of the sites behind them link to, and the
 * domains of those of the highest standing.
 */
export async function manyBursts(
  pool: pg.Pool,
  scope: LinkScope,
  weeks: readonly string[],
  mostNamed: number,
): Promise<ReadonlyMap<string, BurstSources>> {
  if (weeks.length === 0) return new Map()
  const pack = await readPack(pool, scope)
  return memoLater(pack, `bursts ${scopeKey(scope, 'ever')} ${weeks.join()}`, async () => {
    const made = weeks.map(week => [week, makersIn(pack, scope, week)] as const)
    const standing = (site: number): number => pack.sites.get(site)?.standing ?? -1
    const named = made.map(([week, { makers, landed }]) => {
      const most = [...landed].sort(([a, m], [b, n]) => n.size - m.size || a - b)[0]
      const from = [...makers].sort((a, b) => standing(b) - standing(a) || a - b).slice(0, mostNamed)
      return { week, page: most?.[0] ?? null, pageSites: most?.[1].size ?? 0, from }
    })
    const { rows } = await pool.query<{ week: string; page: string | null; from: string[] }>(
      `select b.week, (select url from linked_page where graph_id = $1 and id = b.page) page,
         array(select d.domain from jsonb_array_elements_text(b."from") with ordinality u (s, position)
           join linked_site d on d.graph_id = $1 and d.id = s::integer order by position) "from"
       from jsonb_to_recordset($2) b (week text, page integer, "from" jsonb)`,
      [graphId, JSON.stringify(named)],
    )
    const sites = new Map(named.map(({ week, pageSites }) => [week, pageSites]))
    return new Map(rows.map(({ week, page, from }) => [week, { page, pageSites: sites.get(week)!, from }]))
  })
}
/** Sites with links that were first seen in a week, and those behind each page they lead to. */
function makersIn(pack: LinkPack, scope: LinkScope, week: string) {
  const { links } = pack
  const chosen = chosenOf(pack, scope, 'ever')
  const from = dayNumber(week)
  const makers = new Set<number>()
  const landed = new Map<number, Set<number>>()
  for (let i = 0; i < links.count; i++) {
    const day = links.first[i]!
    if (day < from || day >= from + 7 || chosen[i] === 0 || links.dated[i] === 0) continue
    makers.add(links.site[i]!)
    const of = landed.get(links.target[i]!)
    if (of) of.add(links.site[i]!)
    else landed.set(links.target[i]!, new Set([links.site[i]!]))
  }
  return { makers, landed }
}
