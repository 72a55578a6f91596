import type pg from 'pg'
import { packedNumbers } from '../../../platform/db/packed.ts'
import { inTransaction } from '../../../platform/db/pool.ts'
import { type LinkPack, memoLater } from './link-pack.ts'
import { graphId, latestSql, type LinkScope } from './link-scope.ts'

/** Of the linking page of each link of a pack: links out and shares (−1 = unknown), day on which our crawler read it (0 = never), rank (NaN = unknown). */
export type PageFacts = { linksOut: Int32Array; shares: Int32Array; verified: Int32Array; rank: Float32Array }

/** What is known of linking pages, in the order of the links of a pack. Throws when links changed meanwhile. */
export function readPageFacts(pool: pg.Pool, pack: LinkPack, { siteNumber }: LinkScope): Promise<PageFacts> {
  return memoLater(pack, 'page facts', () =>
    inTransaction(pool, async db => {
      await db.query("set local work_mem = '256MB'")
      const { rows } = await db.query<Record<'linksOut' | 'shares' | 'verified' | 'rank', Buffer | null>>(
        `select string_agg(int4send(coalesce(l.links_out, -1)), '') "linksOut",
           string_agg(int4send(coalesce(l.shares, -1)), '') shares,
           string_agg(int4send(coalesce(l.fetched_at::date - date '1970-01-01', 0)), '') verified,
           string_agg(float4send(coalesce(l.rank, 'NaN')::real), '') rank
         from (
           select coalesce(c.links_out, q.links_out) links_out, p.shares, c.fetched_at, q.rank from link l
           join linked_page p on p.graph_id = $1 and p.id = l.source_page_id
           left join page_content c on c.graph_id = $1 and c.page_id = l.source_page_id
           left join page_standing q on q.graph_id = $1 and q.snapshot_id = ${latestSql}
             and q.page_id = l.source_page_id
           where l.graph_id = $1 and l.target_site_id = $2 and l.source_site_id <> l.target_site_id
           order by l.source_site_id, l.source_page_id, l.target_page_id, l.anchor_id, l.rel
         ) l`,
        [graphId, siteNumber],
      )
      const row = rows[0]!
      const facts = {
        linksOut: new Int32Array(packedNumbers(row.linksOut, 4)),
        shares: new Int32Array(packedNumbers(row.shares, 4)),
        verified: new Int32Array(packedNumbers(row.verified, 4)),
        rank: new Float32Array(packedNumbers(row.rank, 4)),
      }
      if (facts.rank.length !== pack.links.count) throw new Error('links changed while their pages were read')
      return facts
    }),
  )
}
