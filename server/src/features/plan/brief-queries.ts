import type { BriefText } from '@dew-trail/contract/brief'
import { addressKeys } from '../../domain/graph/address-book.ts'
import { pagesOf, readAddress } from '../../domain/graph/content-queries.ts'
import type { Db } from '../../platform/db/pool.ts'

const graphId = 1

export async function maybeBrief(
  db: Db,
  siteId: number,
  pageId: number,
): Promise<{ text: BriefText; version: number } | undefined> {
  const { rows } = await db.query<{ text: BriefText; version: number }>(
    'select brief text, version from page_brief where site_id = $1 and page_id = $2',
    [siteId, pageId],
  )
  return rows[0]
}
/** Saves a brief over the version that was seen (0 = none yet); the new version, or undefined where somebody saved meanwhile. */
export async function saveBriefText(
  db: Db,
  siteId: number,
  pageId: number,
  text: BriefText,
  version: number,
): Promise<number | undefined> {
  const { rows } = await db.query<{ version: number }>(
    version === 0
      ? `insert into page_brief (site_id, page_id, brief) select $1, $2, $3 where $4 = 0 on conflict do nothing
        returning version`
      : `update page_brief set brief = $3, version = version + 1 where site_id = $1 and page_id = $2 and version = $4
        returning version`,
    [siteId, pageId, JSON.stringify(text), version],
  )
  return rows[0]?.version
}

export type ReadText = { url: string; title: string | null; text: string | null; words: number | null }
/** Texts of addresses as they were read, by address; those that were not are left out. */
export async function manyReadTexts(db: Db, urls: readonly string[]): Promise<Map<string, ReadText>> {
  const { rows } = await db.query<ReadText & { address: string }>(
    `select u.address, ${readAddress} url, c.title, c.text, c.words from ${pagesOf}
     join page_content c on c.graph_id = p.graph_id and c.page_id = p.id where c.status = 200 and c.words is not null`,
    [graphId, ...addressKeys(urls)],
  )
  return new Map(rows.map(({ address, ...row }) => [address, row]))
}

/** Own pages that link to an own page, with the words of their links. */
export async function manyOwnLinks(db: Db, url: string): Promise<Array<{ from: string; anchor: string }>> {
  const { rows } = await db.query<{ from: string; anchor: string }>(
    `select f.url "from", a.text anchor from ${pagesOf}
     join link l on l.graph_id = $1 and l.target_site_id = s.id and l.target_page_id = p.id
       and l.source_site_id = s.id and l.gone_on is null
     join linked_page f on f.graph_id = $1 and f.id = l.source_page_id
     join anchor_text a on a.graph_id = $1 and a.id = l.anchor_id limit 20000`,
    [graphId, ...addressKeys([url])],
  )
  return rows
}

/** Read pages of a site whose title or text has all of some words, those that have them in the title first. */
export async function manyPagesOnSubject(
  db: Db,
  domain: string,
  words: readonly string[],
  most: number,
): Promise<Array<{ url: string; title: string | null }>> {
  const like = words.map(word => `%${word.replace(/[\\%_]/g, '\\$&')}%`)
  const { rows } = await db.query<{ url: string; title: string | null }>(
    `select ${readAddress} url, c.title from linked_site s join linked_page p on p.graph_id = $1 and p.site_id = s.id
     join page_content c on c.graph_id = $1 and c.page_id = p.id
     where s.graph_id = $1 and s.domain = $2 and c.status = 200 and c.words is not null
       and coalesce(c.title, '') || ' ' || coalesce(c.text, '') ilike all ($3)
     order by coalesce(c.title, '') ilike all ($3) desc, length(p.url), 1 limit $4`,
    [graphId, domain, like, most],
  )
  return rows
}

/** Texts of some read pages but those given: what pages say whatever they are about. */
export async function manyOtherTexts(db: Db, without: readonly string[], most: number): Promise<string[]> {
  const { rows } = await db.query<{ text: string }>(
    `select c.text from page_content c join linked_page p on p.graph_id = $1 and p.id = c.page_id
     where c.graph_id = $1 and c.text is not null and p.url <> all($2) limit $3`,
    [graphId, without, most],
  )
  return rows.map(row => row.text)
}
