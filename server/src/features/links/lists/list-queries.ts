import type { Db } from '../../../platform/db/pool.ts'
import { graphId, latestSql, type LinkScope, scopeSql, scopeValues } from './link-scope.ts'

export type SiteRow = {
  id: number
  domain: string
  standing: number | null
  trust: number | null
  doubt: number | null
  network: number | null
  networkReasons: string[] | null
  topic: string | null
  links: number
  follow: number
  pages: number
  knownPages: number
  samePages: number
  framed: number
  placed: number
  lands: string
  anchor: string
  language: string | null
  firstSeen: string | null
  lastSeen: string | null
  registeredOn: string | null
  addresses: string[]
  toRivals: number
  contact: string | null
  total: number
}
/** The words of the topic that most of a site's standing comes from (`t`: its figures, `g`: the snapshot); null = none is known. */
const topicSql = `(select array_to_string(array(select jsonb_array_elements_text(g.topics->(at - 1)::integer->'words')), ', ')
  from unnest(t.topic_shares) with ordinality x (share, at) order by share desc limit 1)`

/** Linking sites, those with most followed links and the highest standing first. `beside`: sites of which it is told how many each links to. */
export async function manyLinkingSites(
  db: Db,
  scope: LinkScope,
  beside: readonly string[],
  most: number,
): Promise<SiteRow[]> {
  const { rows } = await db.query<SiteRow>(
    `with scope as materialized (
       select source_site_id s, source_page_id p, target_page_id t, anchor_id a, rel, region, first_seen, last_seen
       from ${scopeSql(scope)}
     ), pairs as (
       select s, t, a, count(distinct p) n from scope group by 1, 2, 3
     ), top as (
       select distinct on (s) s, t, a, n from pairs order by s, n desc, t, a
     ), languages as (
       select s, mode() within group (order by c.language) language from scope
       join page_content c on c.graph_id = $1 and c.page_id = p where c.language is not null group by 1
     ), summed as (
       select s, count(*) links, count(*) filter (where rel = 0) follow, count(distinct p) pages,
         count(*) filter (where region in (0, 3, 5)) framed, count(region) placed, min(first_seen) first_seen,
         max(last_seen) last_seen
       from scope group by 1
     ), ranked as (
       select m.*, t.standing, t.trust, t.doubt, t.network, t.network_reasons, ${topicSql} topic,
         count(*) over () total
       from summed m left join graph_snapshot g on g.id = ${latestSql}
       left join site_standing t on t.graph_id = $1 and t.snapshot_id = g.id and t.site_id = m.s
       order by (m.follow > 0) desc, t.standing desc nulls last, m.links desc, m.s limit $6
     )
     select m.s id, d.domain, m.standing, m.trust, m.doubt, m.network, m.network_reasons "networkReasons", m.topic,
       m.links::integer links, m.follow::integer follow, m.pages::integer pages, m.framed::integer framed,
       m.placed::integer placed, top.n::integer "samePages",
       (select count(*)::integer from linked_page k where k.graph_id = $1 and k.site_id = m.s) "knownPages",
       tp.url lands, tx.text anchor, languages.language, m.first_seen "firstSeen", m.last_seen "lastSeen",
       f.registered_on "registeredOn",
       array(select host(address) from site_address x where x.graph_id = $1 and x.site_id = m.s order by 1 limit 5) addresses,
       (select count(*)::integer from linking_site r join linked_site o on o.graph_id = $1 and o.id = r.target_site_id
         and o.domain = any($5) where r.graph_id = $1 and r.source_site_id = m.s and r.there > 0) "toRivals",
       (select e from linked_page k join page_content c on c.graph_id = $1 and c.page_id = k.id
         cross join unnest(c.emails) e where k.graph_id = $1 and k.site_id = m.s
         order by split_part(e, '@', 2) = d.domain desc, k.url ~* '(contact|kontakt|imprint|impressum)' desc, e limit 1) contact,
       m.total::integer total
     from ranked m join linked_site d on d.graph_id = $1 and d.id = m.s
     join top on top.s = m.s join linked_page tp on tp.graph_id = $1 and tp.id = top.t
     join anchor_text tx on tx.graph_id = $1 and tx.id = top.a
     left join languages on languages.s = m.s left join site_fact f on f.domain = d.domain
     order by (m.follow > 0) desc, m.standing desc nulls last, m.links desc, m.s`,
    [...scopeValues(scope), beside, most],
  )
  return rows
}

export type LinkRowOf = {
  domain: string
  source: string
  title: string | null
  lands: string
  anchor: string
  kind: number
  rel: number
  around: string | null
  region: number | null
  linkedAround: number | null
  language: string | null
  linksOut: number | null
  standing: number | null
  rank: number | null
  firstSeen: string | null
  lastSeen: string | null
  goneOn: string | null
  verifiedOn: string | null
  seenBy: number
  contact: string | null
  total: number
}
/** Links with their facts, followed ones of the highest standing first; `from`: of one linking site alone. */
export async function manyTargetLinks(
  db: Db,
  scope: LinkScope,
  from: string | null,
  most: number,
): Promise<LinkRowOf[]> {
  const { rows } = await db.query<LinkRowOf>(
    `with picked as (
       select l.*, t.standing site_standing, q.rank, q.links_out, count(*) over () total
       from (select * from ${scopeSql(scope)}
         and ($5::text is null or l.source_site_id = (select id from linked_site where graph_id = $1 and domain = $5))) l
       left join graph_snapshot g on g.id = ${latestSql}
       left join site_standing t on t.graph_id = $1 and t.snapshot_id = g.id and t.site_id = l.source_site_id
       left join page_standing q on q.graph_id = $1 and q.snapshot_id = g.id and q.page_id = l.source_page_id
       order by (l.rel = 0) desc, t.standing desc nulls last, l.source_page_id, l.target_page_id, l.anchor_id limit $6
     )
     select d.domain, s.url source, c.title, t.url lands, x.text anchor, l.kind, l.rel, l.around, l.region,
       l.linked_around "linkedAround", c.language, coalesce(c.links_out, l.links_out) "linksOut",
       l.site_standing standing, l.rank, l.first_seen "firstSeen", l.last_seen "lastSeen", l.gone_on "goneOn",
       to_char(c.fetched_at, 'YYYY-MM-DD') "verifiedOn", l.seen_by "seenBy", c.emails[1] contact, l.total::integer total
     from picked l join linked_site d on d.graph_id = $1 and d.id = l.source_site_id
     join linked_page s on s.graph_id = $1 and s.id = l.source_page_id
     join linked_page t on t.graph_id = $1 and t.id = l.target_page_id
     join anchor_text x on x.graph_id = $1 and x.id = l.anchor_id
     left join page_content c on c.graph_id = $1 and c.page_id = l.source_page_id
     order by (l.rel = 0) desc, l.site_standing desc nulls last, l.source_page_id, l.target_page_id, l.anchor_id`,
    [...scopeValues(scope), from, most],
  )
  return rows
}

export type AnchorRowOf = {
  id: number
  text: string
  kind: number
  links: number
  follow: number
  sites: number
  networkSites: number
  lands: string
  total: number
  ofSites: number
}
/** Anchors, those of most sites first. */
export async function manyTargetAnchors(db: Db, scope: LinkScope, most: number): Promise<AnchorRowOf[]> {
  const { rows } = await db.query<AnchorRowOf>(
    `with scope as materialized (
       select source_site_id s, target_page_id t, anchor_id a, kind, rel from ${scopeSql(scope)}
     ), networked as (
       select site_id from site_standing where graph_id = $1 and snapshot_id = ${latestSql} and network is not null
     ), summed as (
       select a, min(kind) kind, count(*) links, count(*) filter (where rel = 0) follow, count(distinct s) sites,
         count(distinct s) filter (where s in (select site_id from networked)) network_sites,
         mode() within group (order by t) t, count(*) over () total
       from scope group by a order by sites desc, links desc, a limit $5
     )
     select m.a id, x.text, m.kind, m.links::integer links, m.follow::integer follow, m.sites::integer sites,
       m.network_sites::integer "networkSites", p.url lands, m.total::integer total,
       (select count(distinct s)::integer from scope) "ofSites"
     from summed m join anchor_text x on x.graph_id = $1 and x.id = m.a
     join linked_page p on p.graph_id = $1 and p.id = m.t order by m.sites desc, m.links desc, m.a`,
    [...scopeValues(scope), most],
  )
  return rows
}

export type PageRowOf = {
  id: number
  url: string
  links: number
  follow: number
  sites: number
  standing: number | null
  topAnchor: string
  status: number | null
  redirectTo: string | null
  readOn: string | null
  firstSeen: string | null
  total: number
}
/** Pages that links lead to, those that most sites link to first. */
export async function manyLinkedPages(db: Db, scope: LinkScope, most: number): Promise<PageRowOf[]> {
  const { rows } = await db.query<PageRowOf>(
    `with summed as (
       select target_page_id t, count(*) links, count(*) filter (where rel = 0) follow,
         count(distinct source_site_id) sites, mode() within group (order by anchor_id) a, min(first_seen) first_seen,
         count(*) over () total
       from ${scopeSql(scope)} group by 1 order by sites desc, links desc, 1 limit $5
     )
     select m.t id, p.url, m.links::integer links, m.follow::integer follow, m.sites::integer sites, q.standing,
       x.text "topAnchor", c.status, r.url "redirectTo", to_char(c.fetched_at, 'YYYY-MM-DD') "readOn",
       m.first_seen "firstSeen", m.total::integer total
     from summed m join linked_page p on p.graph_id = $1 and p.id = m.t
     join anchor_text x on x.graph_id = $1 and x.id = m.a
     left join page_standing q on q.graph_id = $1 and q.snapshot_id = ${latestSql} and q.page_id = m.t
     left join page_content c on c.graph_id = $1 and c.page_id = m.t
     left join linked_page r on r.graph_id = $1 and r.id = c.redirect_to
     order by m.sites desc, m.links desc, m.t`,
    [...scopeValues(scope), most],
  )
  return rows
}

export type NeighbourRow = {
  id: number
  domain: string
  standing: number | null
  trust: number | null
  cluster: number | null
  network: number | null
}
/** Linking sites with followed links, those of the highest standing first, and how they link each other. */
export async function manyNeighbours(
  db: Db,
  scope: LinkScope,
  most: number,
): Promise<{ sites: NeighbourRow[]; links: Array<{ from: number; to: number; pages: number }> }> {
  const { rows: sites } = await db.query<NeighbourRow>(
    `select s.id, d.domain, t.standing, t.trust, t.cluster, t.network
     from (select distinct source_site_id id from ${scopeSql(scope)} and l.rel = 0) s
     join linked_site d on d.graph_id = $1 and d.id = s.id
     left join site_standing t on t.graph_id = $1 and t.snapshot_id = ${latestSql} and t.site_id = s.id
     order by t.standing desc nulls last, s.id limit $5`,
    [...scopeValues(scope), most],
  )
  const { rows: links } = await db.query<{ from: number; to: number; pages: number }>(
    `select source_site_id "from", target_site_id "to", pages from linking_site
     where graph_id = $1 and target_site_id = any($2) and source_site_id = any($2) and follow > 0
     order by 1, 2`,
    [graphId, sites.map(site => site.id)],
  )
  return { sites, links }
}

export type RankingRow = {
  id: number
  place: number
  domain: string
  standing: number
  trust: number | null
  doubt: number | null
  topic: string | null
  linkingSites: number
  linksToSites: number
  met: number
  total: number
}
/** Sites by standing whose domain contains a text, the first `most`, and those of `beside` in any case. */
export async function manyRanked(
  db: Db,
  contains: string,
  beside: readonly string[],
  most: number,
): Promise<RankingRow[]> {
  const like = `%${contains.toLowerCase().replace(/[%_\\]/g, '\\$&')}%`
  const { rows } = await db.query<RankingRow>(
    `with ranked as (
       select t.*, d.domain, row_number() over (order by t.standing desc, t.site_id) place, count(*) over () total
       from site_standing t join linked_site d on d.graph_id = $1 and d.id = t.site_id
       where t.graph_id = $1 and t.snapshot_id = ${latestSql}
     ), met as (
       select *, count(*) over () met from ranked where domain like $2 order by place limit $4
     ), listed as (
       select * from met union
       select r.*, (select max(met) from met) from ranked r where r.domain = any($3)
     )
     select t.site_id id, t.place::integer place, t.domain, t.standing, t.trust, t.doubt, ${topicSql} topic,
       t.linking_sites "linkingSites", t.links_to_sites "linksToSites", coalesce(t.met, 0)::integer met,
       t.total::integer total
     from listed t left join graph_snapshot g on g.id = t.snapshot_id order by t.place`,
    [graphId, like, beside, most],
  )
  return rows
}

/** Phrases for which a site stands in known results: what its pages are about, the most searched first. */
export async function manyPhrasesOf(db: Db, siteId: number, domain: string, most: number): Promise<string[]> {
  const { rows } = await db.query<{ phrase: string }>(
    `select distinct k.phrase from result_row r join result_site s on s.site_id = $1 and s.id = r.on_site and s.domain = $2
     join keyword k on k.site_id = $1 and k.id = r.keyword_id
     where r.site_id = $1 and r.now is not null order by 1 limit $3`,
    [siteId, domain, most],
  )
  return rows.map(row => row.phrase)
}
