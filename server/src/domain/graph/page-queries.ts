import { pagesOf } from './content-queries.ts'
import type { Db } from '../../platform/db/pool.ts'
import { addressKeys } from './address-book.ts'

/** What the link graph and our crawler know of a page; standing and trust 0–100. Of a page that was not read, or is gone, headings and text are null. */
export type PageLook = {
  url: string
  standing: number | null
  trust: number | null
  /** Links to it that are there and followed. */
  followed: number
  readAt: Date | null
  headings: Array<{ level: number; text: string }> | null
  text: string | null
}
/** Looks of those of the addresses that the graph knows. */
export async function manyPageLooks(db: Db, graphId: number, urls: string[]): Promise<PageLook[]> {
  const { rows } = await db.query<PageLook>(
    `select u.address url, ps.standing, ps.trust, (select count(*)::integer from link l where l.graph_id = $1
       and l.target_site_id = s.id and l.target_page_id = p.id and l.gone_on is null and l.rel & 1 = 0) followed,
       c.fetched_at "readAt", c.headings, c.text from ${pagesOf}
     left join (select max(id) id from graph_snapshot where graph_id = $1) g on true
     left join page_standing ps on ps.graph_id = $1 and ps.page_id = p.id and ps.snapshot_id = g.id
     left join page_content c on c.graph_id = $1 and c.page_id = p.id and c.status = 200`,
    [graphId, ...addressKeys(urls)],
  )
  return rows
}
