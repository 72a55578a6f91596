import { addressKeys } from '../links/address-book.ts'
import type pg from 'pg'
import type { Db } from '../db/pool.ts'
import type { PageFacts } from './read-body.ts'

export type RobotsRow = { origin: string; status: number | null; body: string; fetchedAt: Date }
export async function maybeRobots(db: Db, origin: string): Promise<RobotsRow | undefined> {
  const { rows } = await db.query<RobotsRow>(
    'select origin, status, body, fetched_at "fetchedAt" from host_robots where origin = $1',
    [origin],
  )
  return rows[0]
}
export async function upsertRobots(db: Db, row: RobotsRow): Promise<void> {
  await db.query(
    'insert into host_robots (origin, status, body, fetched_at) values ($1, $2, $3, $4) on conflict (origin) do update set status = excluded.status, body = excluded.body, fetched_at = excluded.fetched_at',
    [row.origin, row.status, row.body, row.fetchedAt],
  )
}

export type CrawlRow = {
  id: number
  siteId: number
  graphId: number
  domain: string
  mostPages: number
  mostDepth: number
  seeded: boolean
}
const crawlColumns =
  'id, site_id "siteId", graph_id "graphId", domain, most_pages "mostPages", most_depth "mostDepth", seeded'
export async function insertCrawl(
  db: Db,
  crawl: { siteId: number; domain: string; mostPages: number; mostDepth: number },
): Promise<CrawlRow> {
  const { rows } = await db.query<CrawlRow>(
    `insert into crawl (site_id, graph_id, domain, most_pages, most_depth) values ($1, 1, $2, $3, $4) returning ${crawlColumns}`,
    [crawl.siteId, crawl.domain, crawl.mostPages, crawl.mostDepth],
  )
  return rows[0]!
}
/** Takes away a crawl that never began. */
export async function removeCrawl(db: Db, siteId: number, crawlId: number): Promise<void> {
  await db.query('delete from crawl where site_id = $1 and id = $2 and job_id is null', [siteId, crawlId])
}
export async function setCrawlJob(db: Db, siteId: number, crawlId: number, jobId: number): Promise<void> {
  await db.query('update crawl set job_id = $3 where site_id = $1 and id = $2', [siteId, crawlId, jobId])
}
export async function oneCrawl(db: Db, siteId: number, crawlId: number): Promise<CrawlRow> {
  const { rows } = await db.query<CrawlRow>(`select ${crawlColumns} from crawl where site_id = $1 and id = $2`, [
    siteId,
    crawlId,
  ])
  return rows[0]!
}
export async function markSeeded(db: Db, siteId: number, crawlId: number): Promise<void> {
  await db.query('update crawl set seeded = true where site_id = $1 and id = $2', [siteId, crawlId])
}

/** Pages that failed are tried once more when a crawl is taken up again. */
export async function waitAgain(db: Db, siteId: number, crawlId: number): Promise<void> {
  await db.query(
    "update crawl_page set state = 'waiting', trouble = null, attempts = 0, not_before = null where site_id = $1 and crawl_id = $2 and state = 'failed'",
    [siteId, crawlId],
  )
}

export type CrawlPage = { url: string; depth: number; attempts: number }
export async function insertCrawlPages(
  db: Db,
  siteId: number,
  crawlId: number,
  pages: ReadonlyArray<{ url: string; key: string; host: string; depth: number }>,
): Promise<void> {
  if (!pages.length) return
  await db.query(
    `insert into crawl_page (site_id, crawl_id, url_key, url, host, depth)
     select $1, $2, * from unnest($3::uuid[], $4::text[], $5::text[], $6::smallint[]) on conflict do nothing`,
    [siteId, crawlId, pages.map(p => p.key), pages.map(p => p.url), pages.map(p => p.host), pages.map(p => p.depth)],
  )
}
export async function manyWaitingPages(db: Db, siteId: number, crawlId: number, most: number): Promise<CrawlPage[]> {
  const { rows } = await db.query<CrawlPage>(
    `select url, depth, attempts from crawl_page where site_id = $1 and crawl_id = $2 and state = 'waiting' and coalesce(not_before <= now(), true) order by depth, url_key limit $3`,
    [siteId, crawlId, most],
  )
  return rows
}
export async function markCrawlPages(
  db: Db,
  siteId: number,
  crawlId: number,
  pages: ReadonlyArray<{ key: string; state: string; trouble: string | null; waitMs: number | null }>,
): Promise<void> {
  await db.query(
    `update crawl_page p set state = d.state, trouble = d.trouble, attempts = p.attempts + 1, not_before = now() + d.wait_ms * interval '1 millisecond'
     from (select * from unnest($3::uuid[], $4::text[], $5::text[], $6::integer[]) d (key, state, trouble, wait_ms)) d
     where p.site_id = $1 and p.crawl_id = $2 and p.url_key = d.key`,
    [
      siteId,
      crawlId,
      pages.map(p => p.key),
      pages.map(p => p.state),
      pages.map(p => p.trouble),
      pages.map(p => p.waitMs),
    ],
  )
}
export async function oneCrawlCount(
  db: Db,
  siteId: number,
  crawlId: number,
): Promise<{ done: number; waiting: number }> {
  const { rows } = await db.query<{ done: number; waiting: number }>(
    `select count(*) filter (where state <> 'waiting') done, count(*) filter (where state = 'waiting') waiting from crawl_page where site_id = $1 and crawl_id = $2`,
    [siteId, crawlId],
  )
  return rows[0]!
}

/** Known pages `p` of addresses given as $2 and $3 (`addressKeys`) in the graph $1. */
export const pagesOf = `unnest($2::text[], $3::uuid[]) u (domain, key) join linked_site s on s.graph_id = $1 and s.domain = u.domain
  join linked_page p on p.graph_id = $1 and p.site_id = s.id and p.url_key = u.key`

export type KnownPage = { url: string; etag: string | null; lastModified: string | null }
/** What makes a conditional request of these addresses possible. */
export async function manyValidators(db: Db, graphId: number, urls: string[]): Promise<KnownPage[]> {
  const { rows } = await db.query<KnownPage>(
    `select p.url, c.etag, c.last_modified "lastModified" from ${pagesOf} join page_content c on c.graph_id = p.graph_id and c.page_id = p.id
     where c.status = 200 and (c.etag is not null or c.last_modified is not null)`,
    [graphId, ...addressKeys(urls)],
  )
  return rows
}

export type Fetched = {
  pageId: number
  status: number | null
  trouble: string | null
  redirectTo: number | null
  contentType: string | null
  etag: string | null
  lastModified: string | null
  facts: PageFacts | null
  linksInside: number | null
}
/** Saves what fetches found. A fetch without facts keeps those of an earlier one only when the page is unchanged or could not be got now. */
export async function upsertContents(
  db: pg.PoolClient,
  graphId: number,
  pages: readonly Fetched[],
  at: Date,
): Promise<void> {
  const values = pages.map(({ facts, ...page }) => ({
    page_id: page.pageId,
    status: page.status,
    trouble: page.trouble,
    redirect_to: page.redirectTo,
    content_type: page.contentType,
    etag: page.etag,
    last_modified: page.lastModified,
    title: facts?.title ?? null,
    description: facts?.description ?? null,
    robots: facts?.robots ?? null,
    canonical: facts?.canonical ?? null,
    language: facts?.language ?? null,
    declared_language: facts?.declaredLanguage ?? null,
    headings: facts?.headings ?? null,
    text: facts?.text ?? null,
    words: facts?.words ?? null,
    links_out: facts ? facts.links.length : null,
    links_inside: page.linksInside,
    signature: facts?.signature
      ? `\\x${Buffer.from(facts.signature.buffer, facts.signature.byteOffset, facts.signature.byteLength).toString('hex')}`
      : null,
    emails: facts?.emails ?? null,
  }))
  await db.query(
    `insert into page_content (graph_id, page_id, fetched_at, status, trouble, redirect_to, content_type, etag, last_modified, title, description, robots, canonical, language, declared_language, headings, text, words, links_out, links_inside, signature, emails)
     select $1, d.page_id, $3, d.status, d.trouble, d.redirect_to, d.content_type, d.etag, d.last_modified, d.title, d.description, d.robots, d.canonical, d.language, d.declared_language, d.headings, d.text, d.words, d.links_out, d.links_inside, d.signature, d.emails
     from jsonb_populate_recordset(null::page_content, $2) d
     on conflict (graph_id, page_id) do update set fetched_at = excluded.fetched_at, status = excluded.status, trouble = excluded.trouble, redirect_to = excluded.redirect_to, content_type = excluded.content_type,
       etag = excluded.etag, last_modified = excluded.last_modified, title = excluded.title, description = excluded.description, robots = excluded.robots, canonical = excluded.canonical, language = excluded.language,
       declared_language = excluded.declared_language, headings = excluded.headings, text = excluded.text, words = excluded.words, links_out = excluded.links_out, links_inside = excluded.links_inside, signature = excluded.signature, emails = excluded.emails`,
    [graphId, JSON.stringify(values), at],
  )
}
/**
 * Links of freshly read pages that are not there any more, whoever else says they are: our own look at the page counts. The links that are
 * there stand in `link_stage`, which `saveLinks` of the same transaction filled unless the pages have none.
 */
export async function markGoneLinks(
  db: pg.PoolClient,
  graphId: number,
  pageIds: number[],
  day: string,
  staged: boolean,
): Promise<void> {
  const there = staged
    ? 'and not exists (select 1 from link_stage s where s.source_page_id = l.source_page_id and s.target_page_id = l.target_page_id and s.anchor_id = l.anchor_id and s.rel = l.rel)'
    : ''
  await db.query(
    `with gone as (update link l set gone_on = $3 where l.graph_id = $1 and l.source_page_id = any($2) and l.gone_on is null ${there} returning l.target_site_id)
     insert into link_unsummed select distinct $1::integer, target_site_id from gone order by 2
     on conflict (graph_id, target_site_id) do update set load = null`,
    [graphId, pageIds, day],
  )
}
/** Pages that say they are unchanged were looked at today: they and their links are as they were. */
export async function touchUnchanged(
  db: pg.PoolClient,
  graphId: number,
  pageIds: number[],
  day: string,
): Promise<void> {
  await db.query(
    'update page_content set fetched_at = now(), trouble = null where graph_id = $1 and page_id = any($2)',
    [graphId, pageIds],
  )
  await db.query(
    'update link set last_seen = $3 where graph_id = $1 and source_page_id = any($2) and gone_on is null and seen_by & 1 = 1',
    [graphId, pageIds, day],
  )
}
/** A fetch that failed for now: what was known before stays, with the trouble beside it. */
export async function noteTrouble(
  db: pg.PoolClient,
  graphId: number,
  pages: ReadonlyArray<{ pageId: number; status: number | null; trouble: string }>,
): Promise<void> {
  await db.query(
    `insert into page_content (graph_id, page_id, fetched_at, status, trouble) select $1, d.id, now(), d.status, d.trouble from unnest($2::integer[], $3::smallint[], $4::text[]) d (id, status, trouble)
     on conflict (graph_id, page_id) do update set trouble = excluded.trouble`,
    [graphId, pages.map(p => p.pageId), pages.map(p => p.status), pages.map(p => p.trouble)],
  )
}

type HostCount = { host: string; waiting: number; fetched: number; failed: number; refused: number }
export type CrawlView = {
  id: number
  domain: string
  mostPages: number
  jobId: number | null
  state: 'waiting' | 'running' | 'paused' | 'done' | 'failed' | 'cancelled'
  startedAt: string
  endedAt: string | null
  hosts: HostCount[]
}
/** The crawls of a site, newest first, with their progress by host. */
export async function manyCrawls(db: Db, siteId: number): Promise<CrawlView[]> {
  const { rows } = await db.query<Omit<CrawlView, 'startedAt' | 'endedAt'> & { startedAt: Date; endedAt: Date | null }>(
    `select c.id, c.domain, c.most_pages "mostPages", c.job_id "jobId", coalesce(j.state, 'waiting') state, c.started_at "startedAt", j.ended_at "endedAt",
       coalesce((select jsonb_agg(h order by h.host) from (select host, count(*) filter (where state = 'waiting') waiting, count(*) filter (where state = 'fetched') fetched,
         count(*) filter (where state = 'failed') failed, count(*) filter (where state = 'refused') refused from crawl_page where site_id = c.site_id and crawl_id = c.id group by host) h), '[]') hosts
     from crawl c left join job j on j.id = c.job_id where c.site_id = $1 order by c.id desc limit 100`,
    [siteId],
  )
  return rows.map(row => ({
    ...row,
    startedAt: row.startedAt.toISOString(),
    endedAt: row.endedAt?.toISOString() ?? null,
  }))
}
export async function manyTroubles(
  db: Db,
  siteId: number,
  crawlId: number,
  most: number,
): Promise<{ total: number; pages: Array<{ url: string; state: 'failed' | 'refused'; trouble: string }> }> {
  const { rows } = await db.query<{ url: string; state: 'failed' | 'refused'; trouble: string; total: number }>(
    `select p.url, p.state, coalesce(p.trouble, '') trouble, count(*) over () total from crawl_page p join crawl c on c.site_id = p.site_id and c.id = p.crawl_id
     where c.site_id = $1 and c.id = $2 and p.state in ('failed', 'refused') order by p.state, p.url limit $3`,
    [siteId, crawlId, most],
  )
  return { total: rows[0]?.total ?? 0, pages: rows.map(({ total: _, ...page }) => page) }
}

export type ContentRow = {
  pageId: number
  fetchedAt: Date
  status: number | null
  trouble: string | null
  redirectTo: string | null
  title: string | null
  description: string | null
  robots: string[]
  canonical: string | null
  language: string | null
  declaredLanguage: string | null
  headings: Array<{ level: number; text: string }>
  text: string | null
  words: number | null
}
export async function maybeContent(db: Db, graphId: number, url: string): Promise<ContentRow | undefined> {
  const { rows } = await db.query<ContentRow>(
    `select c.page_id "pageId", c.fetched_at "fetchedAt", c.status, c.trouble, t.url "redirectTo", c.title, c.description, coalesce(c.robots, '{}') robots, c.canonical, c.language, c.declared_language "declaredLanguage",
       coalesce(c.headings, '[]') headings, c.text, c.words
     from ${pagesOf} join page_content c on c.graph_id = p.graph_id and c.page_id = p.id left join linked_page t on t.graph_id = c.graph_id and t.id = c.redirect_to`,
    [graphId, ...addressKeys([url])],
  )
  return rows[0]
}
export type LinkOut = {
  url: string
  anchor: string
  rel: number
  kind: number
  region: number | null
  density: number | null
  around: string | null
  goneOn: string | null
}
/** Links of a page that our crawler saw on it, gone ones too. */
export async function manyLinksOut(db: Db, graphId: number, pageId: number): Promise<LinkOut[]> {
  const { rows } = await db.query<LinkOut>(
    `select t.url, a.text anchor, l.rel, l.kind, l.region, l.density, l.around, l.gone_on "goneOn" from link l join linked_page t on t.graph_id = l.graph_id and t.id = l.target_page_id
     join anchor_text a on a.graph_id = l.graph_id and a.id = l.anchor_id where l.graph_id = $1 and l.source_page_id = $2 and l.seen_by & 1 = 1 order by l.region, t.url`,
    [graphId, pageId],
  )
  return rows
}

/** When pages with these addresses were last read. */
export async function manyFetchTimes(db: Db, graphId: number, urls: string[]): Promise<Map<string, Date>> {
  const { rows } = await db.query<{ url: string; at: Date }>(
    `select p.url, c.fetched_at at from ${pagesOf} join page_content c on c.graph_id = p.graph_id and c.page_id = p.id
     where c.status is not null`,
    [graphId, ...addressKeys(urls)],
  )
  return new Map(rows.map(row => [row.url, row.at]))
}
