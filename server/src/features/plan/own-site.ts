import { readAddress } from '../../domain/graph/content-queries.ts'
import type { Db } from '../../platform/db/pool.ts'

const graphId = 1

export type CrawledPage = {
  url: string
  title: string | null
  status: number | null
  canonical: string | null
  readOn: string
}
/** Pages of a site that the crawler read, the ones that were gone when it came included. */
export async function manyCrawledPages(db: Db, domain: string): Promise<CrawledPage[]> {
  const { rows } = await db.query<CrawledPage>(
    `select ${readAddress} url, c.title, c.status, c.canonical, c.fetched_at::date::text "readOn"
     from linked_site s join linked_page p on p.graph_id = $1 and p.site_id = s.id
     join page_content c on c.graph_id = $1 and c.page_id = p.id
     where s.graph_id = $1 and s.domain = $2 and (c.status = 200 and c.words is not null or c.status in (404, 410))`,
    [graphId, domain],
  )
  return rows
}

/** Addresses of read pages of a site to which no other page of it links; null where fewer than two were read. */
export async function manyUnlinkedPages(db: Db, domain: string): Promise<string[] | null> {
  const { rows } = await db.query<{ url: string; linked: boolean }>(
    `select ${readAddress} url, exists (select from link l where l.graph_id = $1 and l.target_site_id = s.id
      and l.target_page_id = p.id
         and l.source_site_id = s.id and l.source_page_id <> p.id and l.gone_on is null) linked
     from linked_site s join linked_page p on p.graph_id = $1 and p.site_id = s.id
     join page_content c on c.graph_id = $1 and c.page_id = p.id
     where s.graph_id = $1 and s.domain = $2 and c.status = 200 and c.words is not null`,
    [graphId, domain],
  )
  return rows.length < 2 ? null : rows.filter(row => !row.linked).map(row => row.url)
}
