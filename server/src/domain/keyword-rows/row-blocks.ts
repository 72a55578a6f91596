import { createHash } from 'node:crypto'
import { keywordColumns } from '@dew-trail/contract/gather'
import type { Db } from '../../platform/db/pool.ts'

/** Blocks written by a program with other columns are not read. Raise the number when the meaning of a cell changes. */
const shape = createHash('sha1')
  .update(`3 ${JSON.stringify(keywordColumns)}`)
  .digest('hex')
/** From this share of rows that came again later, blocks are thrown away and made anew. */
const mostStale = 0.4

/** Revisions above `from` up to `to`, and the lines that go to the browser. */
export type RowBlock = { from: number; to: number; keywords: number; lines: string }

/** The kept block that a revision falls into: the next one of the chain for who has all up to `since`. */
export async function maybeRowBlock(
  db: Db,
  siteId: number,
  marketId: number,
  since: number,
): Promise<RowBlock | undefined> {
  const { rows } = await db.query<RowBlock>(
    `select from_revision "from", to_revision "to", keywords, lines from row_block
     where site_id = $1 and market_id = $2 and shape = $3 and from_revision <= $4 and to_revision > $4
       order by from_revision limit 1`,
    [siteId, marketId, shape, since],
  )
  return rows[0]
}

/** Keeps a block when it begins where the chain ends; any other is not of use to who opens the table. */
export async function keepRowBlock(db: Db, siteId: number, marketId: number, block: RowBlock): Promise<void> {
  await db.query(
    `insert into row_block (site_id, market_id, shape, from_revision, to_revision, keywords, lines)
     select $1::bigint, $2::bigint, $3, $4::bigint, $5, $6, $7 where $4 = (select coalesce(max(to_revision), 0)
       from row_block where site_id = $1 and market_id = $2 and shape = $3)
     on conflict (site_id, market_id, from_revision) do update
       set shape = excluded.shape, to_revision = excluded.to_revision, keywords = excluded.keywords,
       lines = excluded.lines`,
    [siteId, marketId, shape, block.from, block.to, block.keywords, block.lines],
  )
}

/** Throws blocks away when many of their rows came again later, or when they are of another program. */
export async function dropStaleBlocks(db: Db, siteId: number, marketId: number): Promise<void> {
  await db.query('delete from row_block where site_id = $1 and market_id = $2 and shape <> $3', [
    siteId,
    marketId,
    shape,
  ])
  const { rows } = await db.query<{ kept: number | null; alive: number }>(
    `select b.kept, (select count(*) from keyword k where k.site_id = $1 and k.revision <= b.last
       and k.language = (select language from market where site_id = $1 and id = $2)) alive
     from (select sum(keywords) kept, max(to_revision) last from row_block where site_id = $1 and market_id = $2) b`,
    [siteId, marketId],
  )
  const { kept, alive } = rows[0]!
  if (kept !== null && alive < Number(kept) * (1 - mostStale))
    await db.query('delete from row_block where site_id = $1 and market_id = $2', [siteId, marketId])
}
