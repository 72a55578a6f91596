import { addressKeys } from './address-book.ts'
import type pg from 'pg'
import type { Db } from '../../platform/db/pool.ts'
import type { PageFacts } from '../pages/read-body.ts'

/** Known pages `p` of addresses `u.address` given as $2 to $4 (`addressKeys`) in the graph $1. */
export const pagesOf = `unnest($2::text[], $3::uuid[], $4::text[]) u (domain, key, address)
  join linked_site s on s.graph_id = $1 and s.domain = u.domain
  join linked_page p on p.graph_id = $1 and p.site_id = s.id and p.url_key = u.key`

export type KnownPage = { url: string; etag: string | null; lastModified: string | null }
/** What makes a conditional request of these addresses possible. */
export async function manyValidators(db: Db, graphId: number, urls: string[]): Promise<KnownPage[]> {
  const { rows } = await db.query<KnownPage>(
    `select u.address url, c.etag, c.last_modified "lastModified" from ${pagesOf}
      join page_content c on c.graph_id = p.graph_id and c.page_id = p.id
     where c.status = 200 and (c.etag is not null or c.last_modified is not null)`,
    [graphId, ...addressKeys(urls)],
  )
  return rows
}

export type Fetched = {
  pageId: number
  status: number | null
  problem: string | null
  /** Id of the address that was asked, and of the one it redirects to, where they are not those that their pages bear. */
  addressId: number | null
  redirectTo: number | null
  redirectAddressId: number | null
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
    problem: page.problem,
    address_id: page.addressId,
    redirect_to: page.redirectTo,
    redirect_address_id: page.redirectAddressId,
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
    `insert into page_content (graph_id, page_id, fetched_at, status, problem, address_id, redirect_to,
       redirect_address_id, content_type, etag, last_modified, title, description, robots, canonical, language,
       declared_language, headings, text, words, links_out, links_inside, signature, emails)
     select $1, d.page_id, $3, d.status, d.problem, d.address_id, d.redirect_to, d.redirect_address_id,
       d.content_type, d.etag, d.last_modified, d.title, d.description, d.robots, d.canonical, d.language,
       d.declared_language, d.headings, d.text,
       d.words, d.links_out, d.links_inside, d.signature, d.emails
     from jsonb_populate_recordset(null::page_content, $2) d
     on conflict (graph_id, page_id) do update set fetched_at = excluded.fetched_at, status = excluded.status,
       problem = excluded.problem, address_id = excluded.address_id, redirect_to = excluded.redirect_to,
       redirect_address_id = excluded.redirect_address_id, content_type = excluded.content_type,
       etag = excluded.etag, last_modified = excluded.last_modified, title = excluded.title,
         description = excluded.description, robots = excluded.robots, canonical = excluded.canonical,
         language = excluded.language,
       declared_language = excluded.declared_language, headings = excluded.headings, text = excluded.text,
         words = excluded.words, links_out = excluded.links_out, links_inside = excluded.links_inside,
         signature = excluded.signature, emails = excluded.emails`,
    [graphId, JSON.stringify(values), at],
  )
}
/** The address of a page `p` as it was last read, `c` being its content: a crawl may have met another way to write it than links have. */
export const readAddress = `coalesce((select a.url from linked_page_address a
  where a.graph_id = p.graph_id and a.id = c.address_id), p.url)`
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
    ? `and not exists (select 1 from link_stage s
      where s.source_page_id = l.source_page_id and s.target_page_id = l.target_page_id and s.anchor_id = l.anchor_id
        and s.rel = l.rel)`
    : ''
  await db.query(
    `with gone as (update link l set gone_on = $3 where l.graph_id = $1 and l.source_page_id = any($2)
      and l.gone_on is null ${there} returning l.target_site_id)
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
    'update page_content set fetched_at = now(), problem = null where graph_id = $1 and page_id = any($2)',
    [graphId, pageIds],
  )
  await db.query(
    `update link set last_seen = $3 where graph_id = $1 and source_page_id = any($2) and gone_on is null
      and seen_by & 1 = 1`,
    [graphId, pageIds, day],
  )
}
/** A fetch that failed for now: what was known before stays, with the problem beside it. */
export async function noteError(
  db: pg.PoolClient,
  graphId: number,
  pages: ReadonlyArray<{ pageId: number; status: number | null; problem: string }>,
): Promise<void> {
  await db.query(
    `insert into page_content (graph_id, page_id, fetched_at, status, problem) select $1, d.id, now(), d.status,
      d.problem from unnest($2::integer[], $3::smallint[], $4::text[]) d (id, status, problem)
     on conflict (graph_id, page_id) do update set problem = excluded.problem`,
    [graphId, pages.map(p => p.pageId), pages.map(p => p.status), pages.map(p => p.problem)],
  )
}

export type ContentRow = {
  pageId: number
  fetchedAt: Date
  status: number | null
  problem: string | null
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
    `select c.page_id "pageId", c.fetched_at "fetchedAt", c.status, c.problem, coalesce(ta.url, t.url) "redirectTo",
      c.title, c.description, coalesce(c.robots, '{}') robots, c.canonical, c.language,
      c.declared_language "declaredLanguage",
       coalesce(c.headings, '[]') headings, c.text, c.words
     from ${pagesOf} join page_content c on c.graph_id = p.graph_id and c.page_id = p.id left
       join linked_page t on t.graph_id = c.graph_id and t.id = c.redirect_to
     left join linked_page_address ta on ta.graph_id = $1 and ta.id = c.redirect_address_id`,
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
  linkedAround: number | null
  around: string | null
  goneOn: string | null
}
/** Links of a page that our crawler saw on it, gone ones too. */
export async function manyLinksOut(db: Db, graphId: number, pageId: number): Promise<LinkOut[]> {
  const { rows } = await db.query<LinkOut>(
    `select coalesce(ta.url, t.url) url, a.text anchor, l.rel, l.kind, l.region, l.linked_around "linkedAround",
      l.around, l.gone_on "goneOn" from link l
      join linked_page t on t.graph_id = l.graph_id and t.id = l.target_page_id
     left join linked_page_address ta on ta.graph_id = l.graph_id and ta.id = l.target_address_id
     join anchor_text a on a.graph_id = l.graph_id and a.id = l.anchor_id where l.graph_id = $1
       and l.source_page_id = $2 and l.seen_by & 1 = 1 order by l.region, 1`,
    [graphId, pageId],
  )
  return rows
}

/** When pages with these addresses were last read. */
export async function manyFetchTimes(db: Db, graphId: number, urls: string[]): Promise<Map<string, Date>> {
  const { rows } = await db.query<{ url: string; at: Date }>(
    `select u.address url, c.fetched_at at from ${pagesOf}
      join page_content c on c.graph_id = p.graph_id and c.page_id = p.id
     where c.status is not null`,
    [graphId, ...addressKeys(urls)],
  )
  return new Map(rows.map(row => [row.url, row.at]))
}

/** Ids of those of some addresses that the graph knows. */
export async function manyPageIds(db: Db, graphId: number, urls: string[]): Promise<number[]> {
  const { rows } = await db.query<{ id: number }>(
    `select distinct p.id
    from ${pagesOf}`,
    [graphId, ...addressKeys(urls)],
  )
  return rows.map(row => row.id)
}

/** A page as the crawler read it last. `heads`: its title and headings; `readOn` YYYY-MM-DD. */
export type ReadPage = { words: number; readOn: string; heads: string[] }
/** What was read of addresses, by address; those that were not read, or are no HTML pages, are left out. */
export async function manyReadPages(db: Db, graphId: number, urls: readonly string[]): Promise<Map<string, ReadPage>> {
  const { rows } = await db.query<{ address: string } & ReadPage>(
    `select u.address, c.words, c.fetched_at::date::text "readOn",
       array_remove(c.title || array(select h->>'text' from jsonb_array_elements(c.headings) h), null) heads
     from ${pagesOf} join page_content c on c.graph_id = p.graph_id and c.page_id = p.id
     where c.words is not null and c.headings is not null`,
    [graphId, ...addressKeys(urls)],
  )
  return new Map(rows.map(({ address, ...row }) => [address, row]))
}
