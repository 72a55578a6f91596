import type { Db } from '../../platform/db/pool.ts'
import { pageKey } from '../../domain/pages/page-key.ts'

/** What links lead to: a site, or one of its pages. */
export type Target = { graphId: number; siteId: number; pageId: number | null }
// Values are known when a statement is planned, so the condition on the page falls away or becomes a bound of the index.
const to = 'l.graph_id = $1 and l.target_site_id = $2 and ($3::integer is null or l.target_page_id = $3)'
const toPage = 'l.graph_id = $1 and l.target_site_id = $2 and l.target_page_id = $3'
const toSite = 'l.graph_id = $1 and l.target_site_id = $2'
const values = ({ graphId, siteId, pageId }: Target): Array<number | null> =>
  pageId === null ? [graphId, siteId] : [graphId, siteId, pageId]
const where = (target: Target): string => (target.pageId === null ? toSite : toPage)

/** The ids of a site and, where an address is given, of a page; `undefined` when the graph has never met it. */
export async function maybeTarget(
  db: Db,
  graphId: number,
  domain: string,
  url: string | null,
): Promise<Target | undefined> {
  const { rows } = await db.query<{ siteId: number; pageId: number | null }>(
    `select s.id "siteId", p.id "pageId" from linked_site s left join linked_page p on p.graph_id = $1
      and p.site_id = s.id and p.url_key = $3 where s.graph_id = $1 and s.domain = $2`,
    [graphId, domain, url === null ? null : pageKey(url)],
  )
  const row = rows[0]
  return row && (url === null || row.pageId !== null) ? { graphId, ...row } : undefined
}

export type LinkTotals = {
  links: number
  there: number
  follow: number
  linkingPages: number
  linkingSites: number
  bands: number[] | null
}
/** Sums of a site as they were written when its links came in. */
export async function maybeSiteTotals(db: Db, { graphId, siteId }: Target): Promise<LinkTotals | undefined> {
  const { rows } = await db.query<LinkTotals>(
    `select links, there, follow, linking_pages "linkingPages", linking_sites "linkingSites",
       (select linking_bands from site_standing s where s.graph_id = $1 and s.site_id = $2
         and s.snapshot_id = (select max(id) from graph_snapshot where graph_id = $1)) bands
     from link_total where graph_id = $1 and target_site_id = $2`,
    [graphId, siteId],
  )
  return rows[0]
}
/** The same of one page, counted. */
export async function onePageTotals(db: Db, target: Target): Promise<LinkTotals> {
  const { rows } = await db.query<LinkTotals>(
    `with l as (select source_site_id site, source_page_id page, gone_on is null there, rel from link l
      where ${toPage} and source_site_id <> target_site_id),
       latest as (select max(id) id from graph_snapshot where graph_id = $1),
       bands as (select least(4, floor(s.standing / 20))::integer band, count(*)::integer sites
         from (select distinct site from l where there and rel = 0) d
         join site_standing s on s.graph_id = $1 and s.snapshot_id = (select id from latest)
           and s.site_id = d.site group by 1)
     select count(*) links, count(*) filter (where there) there, count(*)
       filter (where there and rel = 0) follow, count(distinct page) filter (where there) "linkingPages",
       count(distinct site) filter (where there) "linkingSites",
       case when (select id from latest) is null then null
         else (select array_agg(coalesce(b.sites, 0) order by i) from generate_series(0, 4) i left
         join bands b on b.band = i) end bands from l`,
    values(target),
  )
  return rows[0]!
}

/** Topics behind the standing of a target's site, largest first; undefined where no snapshot knows any. */
export async function maybeSubjects(
  db: Db,
  { graphId, siteId }: Target,
  leastShare: number,
): Promise<Array<{ words: string[]; share: number }> | undefined> {
  const { rows } = await db.query<{ subjects: Array<{ words: string[]; share: number }> }>(
    `select coalesce((select jsonb_agg(jsonb_build_object('words', g.topics->(at - 1)::integer->'words',
      'share', share) order by share desc)
         from unnest(s.topic_shares) with ordinality t (share, at) where share >= $3), '[]') subjects
     from (select id, topics from graph_snapshot where graph_id = $1 order by id desc limit 1) g
     join site_standing s on s.graph_id = $1 and s.snapshot_id = g.id and s.site_id = $2
       where s.topic_shares is not null`,
    [graphId, siteId, leastShare],
  )
  return rows[0]?.subjects
}

export type AnchorCount = { text: string; kind: number; links: number }
/** Anchors of up to `most` links from other sites, most frequent first. */
export async function manyAnchors(db: Db, target: Target, most: number): Promise<AnchorCount[]> {
  const { rows } = await db.query<AnchorCount>(
    `select a.text, c.kind, c.links from (select anchor_id, kind, count(*)::integer links
      from (select anchor_id, kind from link l where ${where(target)} and source_site_id <> target_site_id
      limit ${Number(most)}) s group by 1, 2) c
     join anchor_text a on a.graph_id = $1 and a.id = c.anchor_id order by c.links desc, a.text`,
    values(target),
  )
  return rows
}
/** What some links say of their subject. */
export async function manySubjects(
  db: Db,
  target: Target,
  most: number,
): Promise<Array<{ anchor: string; around: string | null; title: string | null }>> {
  const { rows } = await db.query<{ anchor: string; around: string | null; title: string | null }>(
    `select a.text anchor, l.around, c.title from (select * from link l where ${where(target)}
      and source_site_id <> target_site_id and gone_on is null limit ${Number(most)}) l
     join anchor_text a on a.graph_id = $1 and a.id = l.anchor_id left join page_content c on c.graph_id = $1
       and c.page_id = l.source_page_id`,
    values(target),
  )
  return rows
}
/** Linking sites by the Monday on which they were first seen; `null` for those without a day. */
export async function manyGained(db: Db, target: Target): Promise<Array<{ week: string | null; sites: number }>> {
  const sites =
    target.pageId === null
      ? `select first_seen, count(*) sites from linking_site l where ${toSite} group by 1`
      : `select first_seen, count(*) sites from (select min(first_seen) first_seen from link l where ${toPage}
        and source_site_id <> target_site_id group by source_site_id) d group by 1`
  const { rows } = await db.query<{ week: string | null; sites: number }>(
    `select to_char(date_trunc('week', first_seen), 'YYYY-MM-DD') week, sum(sites)::integer sites
      from (${sites}) s group by 1 order by 1`,
    values(target),
  )
  return rows
}

export type LinkFilter = { follow: boolean; there: boolean; since: string | null }
const met =
  'l.source_site_id <> l.target_site_id and (not $4 or l.rel = 0) and (not $5 or l.gone_on is null) and ($6::date is null or l.first_seen >= $6)'

/** How many links meet the conditions. */
export async function countLinks(db: Db, target: Target, filter: LinkFilter): Promise<number> {
  const { rows } = await db.query<{ count: number }>(
    `select count(*)::integer count from link l where ${to} and ${met}`,
    [target.graphId, target.siteId, target.pageId, filter.follow, filter.there, filter.since],
  )
  return rows[0]!.count
}
export type ListedLink = {
  key: string
  source: string
  title: string | null
  target: string
  anchor: string
  kind: number
  rel: number
  around: string | null
  firstSeen: string | null
  lastSeen: string | null
  goneOn: string | null
  standing: number | null
  rank: number | null
  linksOut: number | null
}
/** Links that meet the conditions in the order of their key, after a key: their integers first, then what they stand for. */
export async function manyLinks(
  db: Db,
  target: Target,
  filter: LinkFilter,
  after: readonly number[] | null,
  most: number,
): Promise<ListedLink[]> {
  // The bounds are written out, so that every page of the list is one range of the index.
  const bound = after
    ? `and (l.target_page_id, l.source_page_id, l.anchor_id, l.rel) > (${after.map(Number).join(', ')})`
    : ''
  const { rows } = await db.query<ListedLink>(
    `select l.target_page_id || ',' || l.source_page_id || ',' || l.anchor_id || ',' || l.rel "key", coalesce(sa.url,
      s.url) source, c.title,
       coalesce(ta.url, t.url) target, a.text anchor, l.kind, l.rel, l.around,
       l.first_seen::text "firstSeen", l.last_seen::text "lastSeen", l.gone_on::text "goneOn", ss.standing,
         ps.rank, ps.links_out "linksOut"
     from (select * from link l where ${to} and ${met} ${bound}
       order by target_page_id, source_page_id, anchor_id, rel limit ${Number(most)}) l
     join linked_page s on s.graph_id = $1 and s.id = l.source_page_id join linked_page t on t.graph_id = $1
       and t.id = l.target_page_id
     left join linked_page_address sa on sa.graph_id = $1 and sa.id = l.source_address_id
     left join linked_page_address ta on ta.graph_id = $1 and ta.id = l.target_address_id
     join anchor_text a on a.graph_id = $1 and a.id = l.anchor_id left join page_content c on c.graph_id = $1
       and c.page_id = l.source_page_id
     left join (select max(id) id from graph_snapshot where graph_id = $1) g on true
     left join site_standing ss on ss.graph_id = $1 and ss.snapshot_id = g.id and ss.site_id = l.source_site_id
     left join page_standing ps on ps.graph_id = $1 and ps.snapshot_id = g.id and ps.page_id = l.source_page_id
     order by l.target_page_id, l.source_page_id, l.anchor_id, l.rel`,
    [target.graphId, target.siteId, target.pageId, filter.follow, filter.there, filter.since],
  )
  return rows
}
/** The scale of the latest snapshot on which ranks of pages become figures. */
export async function maybePageScale(
  db: Db,
  graphId: number,
): Promise<{ pages: number; floor: number; reference: number } | undefined> {
  const { rows } = await db.query<{ pages: number; floor: number; reference: number }>(
    `select pages, page_floor floor, page_reference reference from graph_snapshot where graph_id = $1
      order by id desc limit 1`,
    [graphId],
  )
  return rows[0]
}

/** Phrase and language of a keyword, `undefined` when the site has no such keyword. */
export async function maybePhrase(
  db: Db,
  siteId: number,
  keywordId: number,
): Promise<{ phrase: string; language: string } | undefined> {
  const { rows } = await db.query<{ phrase: string; language: string }>(
    'select phrase, language from keyword where site_id = $1 and id = $2',
    [siteId, keywordId],
  )
  return rows[0]
}
