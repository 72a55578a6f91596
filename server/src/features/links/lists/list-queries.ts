import { type SiteSums, sumByAnchor } from '@dew-trail/core/links/link-sums'
import { radixOrder } from '@dew-trail/core/tables/radix-order'
import type pg from 'pg'
import type { Db } from '../../../platform/db/pool.ts'
import { siteSumsOf } from './figure-queries.ts'
import { chosenOf, dayText, type LinkPack, memo, readPack, scopeKey } from './link-pack.ts'
import { graphId, latestSql, type LinkScope } from './link-scope.ts'

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
  country: string | null
  toRivals: number
  contact: string | null
  total: number
}
/** The words of the topic that most of a site's standing comes from (`t`: its figures, `g`: the snapshot); null = none is known. */
const topicSql = `(select array_to_string(array(select jsonb_array_elements_text(g.topics->(at -
  1)::integer->'words')), ', ')
  from unnest(t.topic_shares) with ordinality x (share, at) order by share desc limit 1)`

/** Linking sites, those with followed links and the highest standing first. `beside`: sites of which it is told how many each links to. */
export async function manyLinkingSites(
  pool: pg.Pool,
  scope: LinkScope,
  beside: readonly string[],
  most: number,
): Promise<SiteRow[]> {
  const pack = await readPack(pool, scope)
  const ranked = rankedSites(pack, scope)
  const shown = ranked.slice(0, most)
  const pages = pagesOf(pack, scope, new Set(shown.map(each => each.site)))
  const { rows } = await pool.query<Pick<SiteRow, 'domain'> & Omit<SiteRow, 'links'>>(
    `with shown as materialized (
       select * from unnest($2::integer[], $3::integer[], $4::integer[]) with ordinality u (s, t, a, position)
     ), languages as (
       select s, mode() within group (order by c.language) language from unnest($5::integer[], $6::integer[]) u (s, p)
       join page_content c on c.graph_id = $1 and c.page_id = p where c.language is not null group by 1
     )
     select m.s id, d.domain, t.standing, t.trust, t.doubt, t.network, t.network_reasons "networkReasons",
       ${topicSql} topic,
       (select count(*)::integer from linked_page k where k.graph_id = $1 and k.site_id = m.s) "knownPages",
       tp.url lands, tx.text anchor, languages.language, f.registered_on "registeredOn",
       array(select host(address) from site_address x where x.graph_id = $1 and x.site_id = m.s order by 1
       limit 5) addresses,
       (select country from site_address x where x.graph_id = $1 and x.site_id = m.s and country is not null
         order by seen_on desc limit 1) country,
       case when $7::text[] = '{}' then 0 else (select count(*)::integer from linking_site r
         join linked_site o on o.graph_id = $1 and o.id = r.target_site_id and o.domain = any($7)
         where r.graph_id = $1 and r.source_site_id = m.s and r.there > 0) end "toRivals",
       (select e from linked_page k join page_content c on c.graph_id = $1 and c.page_id = k.id
         cross join unnest(c.emails) e where k.graph_id = $1 and k.site_id = m.s
         order by split_part(e, '@', 2) = d.domain desc, k.url ~* '(contact|kontakt|imprint|impressum)' desc, e
           limit 1) contact
     from shown m join linked_site d on d.graph_id = $1 and d.id = m.s
     join linked_page tp on tp.graph_id = $1 and tp.id = m.t join anchor_text tx on tx.graph_id = $1 and tx.id = m.a
     left join graph_snapshot g on g.id = ${latestSql}
     left join site_standing t on t.graph_id = $1 and t.snapshot_id = g.id and t.site_id = m.s
     left join languages on languages.s = m.s left join site_fact f on f.domain = d.domain order by m.position`,
    [
      graphId,
      shown.map(each => each.site),
      shown.map(each => each.target),
      shown.map(each => each.anchor),
      pages.sites,
      pages.pages,
      beside,
    ],
  )
  const bySite = new Map(shown.map(each => [each.site, each]))
  return rows.map(row => {
    const { links, follow, pages: linking, framed, placed, same, first, last } = bySite.get(row.id)!
    return {
      ...row,
      ...{ links, follow, pages: linking, framed, placed, samePages: same, total: ranked.length },
      firstSeen: dayText(first),
      lastSeen: dayText(last),
    }
  })
}
/** Sums of all linking sites of a scope in their order: followed ones first, by standing, then by links. */
export function rankedSites(pack: LinkPack, scope: LinkScope): SiteSums[] {
  const standing = (site: number): number => pack.sites.get(site)?.standing ?? -1
  return memo(pack, `ranked ${scopeKey(scope, scope.age)}`, () =>
    siteSumsOf(pack, scope).toSorted(
      (a, b) =>
        Number(b.follow > 0) - Number(a.follow > 0) ||
        standing(b.site) - standing(a.site) ||
        b.links - a.links ||
        a.site - b.site,
    ),
  )
}
/** The linking pages of some sites, each once. */
function pagesOf(pack: LinkPack, scope: LinkScope, of: ReadonlySet<number>): { sites: number[]; pages: number[] } {
  const { count, site, page } = pack.links
  const chosen = chosenOf(pack, scope)
  const [sites, pages]: [number[], number[]] = [[], []]
  let last = -1
  for (let i = 0; i < count; i++) {
    if (chosen[i] === 0 || page[i] === last || !of.has(site[i]!)) continue
    last = page[i]!
    sites.push(site[i]!)
    pages.push(last)
  }
  return { sites, pages }
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
  shares: number | null
  standing: number | null
  rank: number | null
  firstSeen: string | null
  lastSeen: string | null
  goneOn: string | null
  verifiedOn: string | null
  seenBy: number
  contact: string | null
  /** Its site's number in the graph. */
  siteNumber: number
}
/** Links of a pack by their places, with their facts, in that order. */
export async function manyTargetLinks(
  pool: pg.Pool,
  { links }: LinkPack,
  scope: LinkScope,
  shown: Uint32Array,
): Promise<LinkRowOf[]> {
  const { rows } = await pool.query<LinkRowOf>(
    `select d.domain, coalesce(sa.url, s.url) source, c.title, coalesce(ta.url, t.url) lands, x.text anchor, l.kind,
      l.rel, l.around, l.region,
       l.linked_around "linkedAround", c.language, coalesce(c.links_out, q.links_out) "linksOut", s.shares,
       f.standing, q.rank, l.first_seen "firstSeen", l.last_seen "lastSeen", l.gone_on "goneOn",
       to_char(c.fetched_at, 'YYYY-MM-DD') "verifiedOn", l.seen_by "seenBy", c.emails[1] contact,
       l.source_site_id "siteNumber"
     from unnest($3::integer[], $4::integer[], $5::integer[], $6::smallint[]) with ordinality u (p, t, a, rel,
       position)
     -- One by one, by their whole key: the planner would rather read all links of the site.
     cross join lateral (select * from link k
       where k.graph_id = $1 and k.target_site_id = $2 and k.target_page_id = u.t
       and k.source_page_id = u.p and k.anchor_id = u.a and k.rel = u.rel limit 1) l
     join linked_site d on d.graph_id = $1 and d.id = l.source_site_id
     join linked_page s on s.graph_id = $1 and s.id = l.source_page_id
     join linked_page t on t.graph_id = $1 and t.id = l.target_page_id
     left join linked_page_address sa on sa.graph_id = $1 and sa.id = l.source_address_id
     left join linked_page_address ta on ta.graph_id = $1 and ta.id = l.target_address_id
     join anchor_text x on x.graph_id = $1 and x.id = l.anchor_id
     left join page_content c on c.graph_id = $1 and c.page_id = l.source_page_id
     left join graph_snapshot g on g.id = ${latestSql}
     left join site_standing f on f.graph_id = $1 and f.snapshot_id = g.id and f.site_id = l.source_site_id
     left join page_standing q on q.graph_id = $1 and q.snapshot_id = g.id and q.page_id = l.source_page_id
     order by u.position`,
    [
      graphId,
      scope.siteNumber,
      ...[links.page, links.target, links.anchor, links.rel].map(column => Array.from(shown, i => column[i]!)),
    ],
  )
  return rows
}
/** Places of the links of a scope: followed ones first, by standing of their sites, then as they lie. */
export function linkOrder(pack: LinkPack, scope: LinkScope): Uint32Array {
  return memo(pack, `links ${scopeKey(scope, scope.age)}`, () => {
    const { count, site, rel } = pack.links
    const chosen = chosenOf(pack, scope)
    const positions = new Uint32Array(chosen.reduce((sum, each) => sum + each, 0))
    let filled = 0
    for (let i = 0; i < count; i++) if (chosen[i]) positions[filled++] = i
    const keys = new Float64Array(count)
    for (let i = 0; i < count; i++) keys[i] = (rel[i] === 0 ? 0 : 1_000) - (pack.sites.get(site[i]!)?.standing ?? -1)
    return radixOrder(positions, keys)
  })
}

/** Links of a scope by linking site. */
export const countsBySite = (pack: LinkPack, scope: LinkScope): ReadonlyMap<number, number> =>
  memo(pack, `of sites ${scopeKey(scope, scope.age)}`, () => {
    const counts = new Map<number, number>()
    const chosen = chosenOf(pack, scope)
    pack.links.site.forEach((site, i) => {
      if (chosen[i]) counts.set(site, (counts.get(site) ?? 0) + 1)
    })
    return counts
  })

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
export async function manyTargetAnchors(pool: pg.Pool, scope: LinkScope, most: number): Promise<AnchorRowOf[]> {
  const pack = await readPack(pool, scope)
  const { rows: sums, total } = memo(pack, `anchors ${most} ${scopeKey(scope, scope.age)}`, () => {
    const networked = new Set([...pack.sites].flatMap(([site, facts]) => (facts.networked ? [site] : [])))
    return sumByAnchor(pack.links, chosenOf(pack, scope), networked, most)
  })
  const names = await manyNames(
    pool,
    sums.map(each => each.anchor),
    sums.map(each => each.target),
  )
  const ofSites = siteSumsOf(pack, scope).length
  return sums.map(({ anchor, target, networked, ...sum }) => ({
    ...sum,
    id: anchor,
    text: names.anchors.get(anchor)!,
    lands: names.pages.get(target)!,
    networkSites: networked,
    total,
    ofSites,
  }))
}
/** Texts of anchors and addresses of pages, by their ids. */
async function manyNames(
  db: Db,
  anchors: readonly number[],
  pages: readonly number[],
): Promise<{ anchors: Map<number, string>; pages: Map<number, string> }> {
  const texts = await db.query<{ id: number; text: string }>(
    'select id, text from anchor_text where graph_id = $1 and id = any($2)',
    [graphId, [...new Set(anchors)]],
  )
  const urls = await db.query<{ id: number; url: string }>(
    'select id, url from linked_page where graph_id = $1 and id = any($2)',
    [graphId, [...new Set(pages)]],
  )
  return {
    anchors: new Map(texts.rows.map(row => [row.id, row.text])),
    pages: new Map(urls.rows.map(row => [row.id, row.url])),
  }
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
  shares: number | null
  total: number
}
/** Pages that links lead to, those that most sites link to first. */
export async function manyLinkedPages(pool: pg.Pool, scope: LinkScope, most: number): Promise<PageRowOf[]> {
  const pack = await readPack(pool, scope)
  const { links } = pack
  // The same sums as of anchors, with page and anchor in each other's place.
  const { rows: sums, total } = memo(pack, `pages ${most} ${scopeKey(scope, scope.age)}`, () =>
    sumByAnchor({ ...links, anchor: links.target, target: links.anchor }, chosenOf(pack, scope), new Set(), most),
  )
  const first = new Map<number, number>()
  const chosen = chosenOf(pack, scope)
  for (let i = 0; i < links.count; i++) {
    const day = links.first[i]!
    if (chosen[i] && day && day < (first.get(links.target[i]!) ?? Number.POSITIVE_INFINITY))
      first.set(links.target[i]!, day)
  }
  const { rows } = await pool.query<
    Pick<PageRowOf, 'id' | 'url' | 'shares' | 'standing' | 'topAnchor' | 'status' | 'redirectTo' | 'readOn'>
  >(
    `select m.t id, p.url, p.shares, q.standing, x.text "topAnchor", c.status, r.url "redirectTo",
       to_char(c.fetched_at, 'YYYY-MM-DD') "readOn"
     from unnest($2::integer[], $3::integer[]) with ordinality m (t, a, position)
     join linked_page p on p.graph_id = $1 and p.id = m.t join anchor_text x on x.graph_id = $1 and x.id = m.a
     left join page_standing q on q.graph_id = $1 and q.snapshot_id = ${latestSql} and q.page_id = m.t
     left join page_content c on c.graph_id = $1 and c.page_id = m.t
     left join linked_page r on r.graph_id = $1 and r.id = c.redirect_to order by m.position`,
    [graphId, sums.map(each => each.anchor), sums.map(each => each.target)],
  )
  const byPage = new Map(sums.map(each => [each.anchor, each]))
  return rows.map(row => {
    const { links: own, follow, sites } = byPage.get(row.id)!
    return { ...row, links: own, follow, sites, firstSeen: dayText(first.get(row.id) ?? 0), total }
  })
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
  db: pg.Pool,
  scope: LinkScope,
  most: number,
): Promise<{ sites: NeighbourRow[]; links: Array<{ from: number; to: number; pages: number }> }> {
  const pack = await readPack(db, scope)
  const shown = rankedSites(pack, scope)
    .filter(each => each.follow > 0)
    .slice(0, most)
  const { rows: sites } = await db.query<NeighbourRow>(
    `select d.id, d.domain, t.standing, t.trust, t.cluster, t.network
     from unnest($2::integer[]) with ordinality s (id, position) join linked_site d on d.graph_id = $1 and d.id = s.id
     left join site_standing t on t.graph_id = $1 and t.snapshot_id = ${latestSql} and t.site_id = s.id
       order by s.position`,
    [graphId, shown.map(each => each.site)],
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
  position: number
  domain: string
  standing: number
  trust: number | null
  doubt: number | null
  topic: string | null
  linkingSites: number
  linksToSites: number
  met: number
}
/** Sites by standing whose domain contains a text, the first `most`, and those of `beside` in any case. */
export async function manyRanked(
  db: Db,
  contains: string,
  beside: readonly string[],
  most: number,
): Promise<RankingRow[]> {
  const like = contains && `%${contains.toLowerCase().replace(/[%_\\]/g, '\\$&')}%`
  const found = like
    ? `named as materialized (select id from linked_site where graph_id = $1 and domain like $4),
       found as (
         select t.site_id, count(*) over () met from named n join site_standing t
           on t.graph_id = $1 and t.snapshot_id = ${latestSql} and t.site_id = n.id
         order by t.position limit $2)`
    : `found as (
         select t.site_id, g.sites met from site_standing t join graph_snapshot g on g.id = t.snapshot_id
         where t.graph_id = $1 and t.snapshot_id = ${latestSql} and t.position <= $2)`
  const { rows } = await db.query<RankingRow>(
    `with ${found}, listed as (
       select site_id from found union select id from linked_site where graph_id = $1 and domain = any($3)
     )
     select t.site_id id, t.position, d.domain, t.standing, t.trust, t.doubt, ${topicSql} topic,
       t.linking_sites "linkingSites", t.links_to_sites "linksToSites",
       coalesce((select max(met) from found), 0)::integer met
     from listed l join site_standing t on t.graph_id = $1 and t.snapshot_id = ${latestSql} and t.site_id = l.site_id
     join linked_site d on d.graph_id = $1 and d.id = l.site_id
     left join graph_snapshot g on g.id = t.snapshot_id order by t.position`,
    [graphId, most, beside, ...(like ? [like] : [])],
  )
  return rows
}

/** Phrases for which a site stands in known results: what its pages are about, the most searched first. */
export async function manyPhrasesOf(db: Db, siteId: number, domain: string, most: number): Promise<string[]> {
  const { rows } = await db.query<{ phrase: string }>(
    `select distinct k.phrase from result_row r join result_site s on s.site_id = $1 and s.id = r.on_site
      and s.domain = $2
     join keyword k on k.site_id = $1 and k.id = r.keyword_id
     where r.site_id = $1 and r.now is not null order by 1 limit $3`,
    [siteId, domain, most],
  )
  return rows.map(row => row.phrase)
}
