import type pg from 'pg'
import { askForRank } from '../../domain/graph/ask-for-rank.ts'
import { manyPageIds } from '../../domain/graph/content-queries.ts'
import { lockGraph } from '../../domain/graph/queries.ts'
import { sumAllLinks } from '../../domain/graph/rank-job.ts'
import { setTakenBack } from '../../domain/imports/queries.ts'
import type { TakeBackWork } from '../../domain/imports/take-back-work.ts'
import { type Db, inTransaction } from '../../platform/db/pool.ts'
import { columnsOf } from '../../platform/db/site-partition.ts'

type Of = { siteId: number; importId: number }
const graphId = 1
/** By the crawl alone: what a feed or a file told of a link too is not the archive's to take. */
const byCrawl = 1

/** Keeps what is known of pages before an archive's import writes over it, once. */
export async function keepPagesBefore(pool: pg.Pool, { siteId, importId }: Of, urls: string[]): Promise<void> {
  const ids = await manyPageIds(pool, graphId, urls)
  if (!ids.length) return
  const fresh = `p = any($3) and not exists (select from import_page i
    where i.site_id = $1 and i.import_id = $2 and i.page_id = p)`
  const [content, link] = [await list(pool, 'page_content'), await list(pool, 'link')]
  await inTransaction(pool, async db => {
    await db.query(
      `insert into import_page_content (site_id, import_id, ${content})
       select $1, $2, ${content} from (select *, page_id p from page_content where graph_id = ${graphId}) c
       where ${fresh} on conflict do nothing`,
      [siteId, importId, ids],
    )
    await db.query(
      `insert into import_link (site_id, import_id, ${link})
       select $1, $2, ${link} from (select *, source_page_id p from link
         where graph_id = ${graphId} and source_page_id = any($3)) l
       where ${fresh} on conflict do nothing`,
      [siteId, importId, ids],
    )
  })
}

/** Notes which pages an archive's import wrote, in the transaction that wrote them. */
export async function noteWritten(db: Db, { siteId, importId }: Of, urls: string[], at: Date): Promise<void> {
  await db.query(
    `insert into import_page (site_id, import_id, page_id, written_at, before_at)
     select $1, $2, u, $4, (select fetched_at from import_page_content b
       where b.site_id = $1 and b.import_id = $2 and b.page_id = u) from unnest($3::integer[]) u
     on conflict (site_id, import_id, page_id) do update set written_at = excluded.written_at`,
    [siteId, importId, await manyPageIds(db, graphId, urls), at],
  )
}

/** Puts pages and their links as they were before an archive, or as it had them, where nobody read them since. */
export const takeBackPages: TakeBackWork = async (context, control, row, on) => {
  const { siteId, id: importId } = row
  const pages = row.takenBack === on ? 0 : await inTransaction(context.pool, db => swap(db, { siteId, importId }, on))
  await control.step(1, 2)
  await sumAllLinks(context, graphId, control.signal)
  await askForRank(context)
  context.events.publish(siteId, { type: 'crawls' })
  return { pages }
}

async function swap(db: pg.PoolClient, { siteId, importId }: Of, on: boolean): Promise<number> {
  await lockGraph(db, graphId)
  const own = [siteId, importId]
  const [content, link] = [await list(db, 'page_content'), await list(db, 'link')]
  const { rows } = await db.query<{ id: number }>(
    `select i.page_id id from import_page i
     left join page_content c on c.graph_id = ${graphId} and c.page_id = i.page_id
     where i.site_id = $1 and i.import_id = $2 and c.fetched_at is not distinct
       from ${on ? 'i.written_at' : 'i.before_at'}`,
    own,
  )
  const ids = rows.map(each => each.id)
  await db.query(
    `create temp table coming_page on commit drop as select ${content} from import_page_content
       where site_id = ${siteId} and import_id = ${importId} and page_id = any('{${ids.join(',')}}');
     create temp table coming_link on commit drop as select ${link} from import_link
       where site_id = ${siteId} and import_id = ${importId} and source_page_id = any('{${ids.join(',')}}')`,
  )
  await db.query('delete from import_page_content where site_id = $1 and import_id = $2 and page_id = any($3)', [
    ...own,
    ids,
  ])
  await db.query('delete from import_link where site_id = $1 and import_id = $2 and source_page_id = any($3)', [
    ...own,
    ids,
  ])
  await db.query(
    `insert into import_page_content (site_id, import_id, ${content}) select $1, $2, ${content} from page_content
     where graph_id = ${graphId} and page_id = any($3)`,
    [...own, ids],
  )
  await db.query(`delete from page_content where graph_id = ${graphId} and page_id = any($1)`, [ids])
  await db.query(`insert into page_content (${content}) select ${content} from coming_page`)
  // Links that the crawl alone knows, and those that stood there before in another state.
  const going = `graph_id = ${graphId} and source_page_id = any($1) and (seen_by = ${byCrawl} or exists (select
    from coming_link n
    where n.target_site_id = l.target_site_id and n.target_page_id = l.target_page_id
      and n.source_page_id = l.source_page_id
      and n.anchor_id = l.anchor_id and n.rel = l.rel))`
  await db.query(
    `insert into link_unsummed (graph_id, target_site_id, load)
     select distinct ${graphId}, target_site_id, null::integer from (
       select target_site_id from link l where ${going} union select target_site_id from coming_link) t
     on conflict (graph_id, target_site_id) do update set load = null`,
    [ids],
  )
  await db.query(
    `insert into import_link (site_id, import_id, ${link})
     select ${siteId}, ${importId}, ${link} from link l where ${going}`,
    [ids],
  )
  await db.query(`delete from link l where ${going}`, [ids])
  await db.query(`insert into link (${link}) select ${link} from coming_link on conflict do nothing`)
  await setTakenBack(db, siteId, importId, on)
  return ids.length
}

const list = async (db: Db, table: string): Promise<string> => (await columnsOf(db, table)).join(', ')
