import type { MakeupStrip } from '@dew-trail/contract/link-lists'
import { seenByBits } from '@dew-trail/core/links/link-codes'
import type { Db } from '../../../platform/db/pool.ts'
import { graphId, latestSql, type LinkScope, scopeSql, scopeValues } from './link-scope.ts'

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
export async function oneTotals(db: Db, scope: LinkScope): Promise<TotalsRow> {
  const { rows } = await db.query<TotalsRow>(
    `with scope as materialized (select source_site_id s, source_page_id p, rel from ${scopeSql(scope)}),
     sites as materialized (select s, bool_or(rel = 0) follow from scope group by 1),
     placed as (select x.site_id, x.address from sites join site_address x on x.graph_id = $1 and x.site_id = s),
     vetted as (select v.kind from sites join linked_site d on d.graph_id = $1 and d.id = s
       join vetted_site v on v.graph_id = $1 and v.domain = d.domain and not v.refused),
     bands as (select least(4, floor(t.standing / 20))::integer band, count(*)::integer sites, avg(t.trust)::real trust
       from sites join site_standing t on t.graph_id = $1 and t.snapshot_id = ${latestSql} and t.site_id = s
       where follow group by 1)
     select count(*)::integer links, count(*) filter (where rel = 0)::integer follow,
       count(distinct p)::integer "linkingPages", (select count(*)::integer from sites) "linkingSites",
       (select count(*)::integer from sites where follow) "followSites",
       (select count(distinct address)::integer from placed) addresses,
       (select count(distinct set_masklen(address, case family(address) when 4 then 24 else 64 end)::cidr)::integer
         from placed) subnets,
       (select count(distinct site_id)::integer from placed) addressed,
       (select count(*)::integer from linked_page k where k.graph_id = $1 and k.site_id = $2
         and ($3::integer[] is null or k.id = any($3))) "knownPages",
       (select count(*)::integer from vetted where kind = 'institution') institutions,
       (select count(*)::integer from vetted where kind = 'directory') directories,
       case when ${latestSql} is null then null else (select jsonb_agg(jsonb_build_object(
         'sites', coalesce(b.sites, 0), 'trust', b.trust) order by i)
         from generate_series(0, 4) i left join bands b on b.band = i) end bands
     from scope`,
    scopeValues(scope),
  )
  return rows[0]!
}

export type SiteStanding = {
  standing: number
  trust: number | null
  doubt: number | null
  place: number
  subjects: Array<{ words: string[]; share: number }> | null
}
/** What the latest snapshot says of a site; undefined where it does not know it. Topics below `leastShare` are left out. */
export async function maybeStanding(db: Db, siteNumber: number, leastShare: number): Promise<SiteStanding | undefined> {
  const { rows } = await db.query<SiteStanding>(
    `select t.standing, t.trust, t.doubt, (select count(*)::integer + 1 from site_standing o
         where o.graph_id = $1 and o.snapshot_id = t.snapshot_id and o.standing > t.standing) place,
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
export async function manyStripParts(db: Db, scope: LinkScope): Promise<StripRow[]> {
  const { rows } = await db.query<StripRow>(
    `with links as materialized (
       select source_site_id s, rel::text counts, kind::text shape, coalesce(region::text, '') region,
         case when t.url ~ '^https?://[^/]+/?$' then 'home' else 'inner' end lands, split_part(p.url, '://', 1) scheme
       from ${scopeSql(scope).replace(
         'where',
         `join linked_page t on t.graph_id = l.graph_id and t.id = l.target_page_id
         join linked_page p on p.graph_id = l.graph_id and p.id = l.source_page_id where`,
       )}
     )
     select case when grouping(counts) = 0 then 'counts' when grouping(shape) = 0 then 'shape'
         when grouping(lands) = 0 then 'lands' when grouping(scheme) = 0 then 'scheme' else 'region' end strip,
       coalesce(counts, shape, lands, scheme, region) "key", count(*)::integer links, count(distinct s)::integer sites
     from links group by grouping sets ((counts), (shape), (lands), (scheme), (region))
     union all
     select 'state', case when gone_on is null then 'there' else 'gone' end, count(*)::integer,
       count(distinct source_site_id)::integer
     from ${scopeSql({ ...scope, age: 'ever' })} group by 2
     order by 1, 3 desc`,
    scopeValues(scope),
  )
  return rows
}

/** Of a link that our crawler alone knows it is known when it was met, not since when it stands. */
const dated = `seen_by <> ${seenByBits.crawl}`

export type WeekRow = { week: string | null; gained: number; lost: number; fresh: number }
/**
 * Linking sites by the Monday of the week in which they were first seen, and in which the last of their links went; `fresh`: sites with
 * a new link in it, whether they linked before or not. null = no day is known.
 */
export async function manyWeeks(db: Db, scope: LinkScope): Promise<WeekRow[]> {
  const { rows } = await db.query<WeekRow>(
    `with sites as (
       select min(first_seen) filter (where ${dated}) came, case when bool_and(gone_on is not null) then max(gone_on) end went
       from ${scopeSql({ ...scope, age: 'ever' })} group by source_site_id
     )
     select week, sum(gained)::integer gained, sum(lost)::integer lost, sum(fresh)::integer fresh from (
       select to_char(date_trunc('week', came), 'YYYY-MM-DD') week, 1 gained, 0 lost, 0 fresh from sites
       union all select to_char(date_trunc('week', went), 'YYYY-MM-DD'), 0, 1, 0 from sites where went is not null
       union all select to_char(date_trunc('week', first_seen), 'YYYY-MM-DD'), 0, 0, 1
       from ${scopeSql({ ...scope, age: 'ever' })} and first_seen is not null and ${dated} group by source_site_id, 1
     ) w group by 1 order by 1`,
    scopeValues(scope),
  )
  return rows
}

export type BurstSources = { page: string | null; pageSites: number; from: string[] }
/**
 * Of the links first seen in a week (its Monday): the page that most of the sites behind them link to, and the domains of those of the highest
 * standing.
 */
export async function oneBurst(db: Db, scope: LinkScope, week: string, mostNamed: number): Promise<BurstSources> {
  const { rows } = await db.query<BurstSources>(
    `with came as materialized (
       select source_site_id s, target_page_id t from ${scopeSql({ ...scope, age: 'ever' })}
         and first_seen >= $4::date and first_seen < $4::date + 7 and ${dated}
     ), landed as (
       select t, count(distinct s) n from came group by 1 order by 2 desc, 1 limit 1
     ), makers as (
       select distinct s from came
     )
     select (select p.url from landed join linked_page p on p.graph_id = $1 and p.id = t) page,
       coalesce((select n from landed), 0)::integer "pageSites",
       array(select d.domain from makers join linked_site d on d.graph_id = $1 and d.id = s
         left join site_standing x on x.graph_id = $1 and x.snapshot_id = ${latestSql} and x.site_id = s
         order by x.standing desc nulls last, s limit $5) "from"`,
    [...scopeValues(scope).slice(0, 3), week, mostNamed],
  )
  return rows[0]!
}
