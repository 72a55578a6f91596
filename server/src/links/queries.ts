import { Readable } from 'node:stream'
import { pipeline } from 'node:stream/promises'
import type pg from 'pg'
import { from as copyFrom } from 'pg-copy-streams'
import type { Db } from '../db/pool.ts'

/** Lets one writer at a time into a graph, until the end of the transaction. */
export async function lockGraph(db: pg.PoolClient, graphId: number): Promise<void> {
  await db.query("select pg_advisory_xact_lock(hashtext('graph'), $1)", [graphId])
}

const staged =
  'target_site_id, target_page_id, source_site_id, source_page_id, anchor_id, rel, kind, region, seen_by, density, first_seen, last_seen, gone_on, around'

/**
 * Adds links given as lines of COPY text in the order of `staged`. A link that is there already keeps the earliest first and the latest
 * last day; whether it is gone is told by whoever looked last; what only one of both knows is kept.
 */
export async function mergeLinks(db: pg.PoolClient, graphId: number, lines: Iterable<string>): Promise<void> {
  await db.query(
    `create temp table if not exists link_stage (target_site_id integer, target_page_id integer, source_site_id integer, source_page_id integer, anchor_id integer,
       rel smallint, kind smallint, region smallint, seen_by smallint, density real, first_seen date, last_seen date, gone_on date, around text) on commit delete rows`,
  )
  await pipeline(Readable.from(lines), db.query(copyFrom(`copy link_stage (${staged}) from stdin`)))
  await db.query(
    `insert into link_unsummed select distinct $1::integer, target_site_id from link_stage order by 2 on conflict do nothing`,
    [graphId],
  )
  // Two ways to one link within a batch would meet the same row twice, which one statement may not.
  await db.query(
    `insert into link (graph_id, ${staged})
     select $1, target_site_id, target_page_id, min(source_site_id), source_page_id, anchor_id, rel, min(kind), min(region), bit_or(seen_by), min(density), min(first_seen), max(last_seen),
       case when bool_or(gone_on is null) then null else max(gone_on) end, min(around)
     from link_stage group by target_site_id, target_page_id, source_page_id, anchor_id, rel
     on conflict (graph_id, target_site_id, target_page_id, source_page_id, anchor_id, rel) do update set
       first_seen = least(link.first_seen, excluded.first_seen), last_seen = greatest(link.last_seen, excluded.last_seen),
       gone_on = case when link.gone_on is not null and excluded.gone_on is null and excluded.last_seen <= link.gone_on then link.gone_on
         when link.last_seen is null or excluded.last_seen >= link.last_seen then excluded.gone_on else link.gone_on end,
       seen_by = link.seen_by | excluded.seen_by, region = coalesce(excluded.region, link.region), density = coalesce(excluded.density, link.density), around = coalesce(excluded.around, link.around)`,
    [graphId],
  )
}

/** Sums links by linking site and in all, for up to `most` linked sites whose sums are old. Gives how many it did. */
export async function sumLinks(db: pg.PoolClient, graphId: number, most: number): Promise<number> {
  const { rows } = await db.query<{ id: number }>(
    `delete from link_unsummed where graph_id = $1 and target_site_id in (select target_site_id from link_unsummed where graph_id = $1 limit $2) returning target_site_id id`,
    [graphId, most],
  )
  if (!rows.length) return 0
  const ids = rows.map(row => row.id)
  await db.query('delete from linking_site where graph_id = $1 and target_site_id = any($2)', [graphId, ids])
  await db.query(
    `insert into linking_site select $1, target_site_id, source_site_id, count(*), count(*) filter (where gone_on is null), count(*) filter (where gone_on is null and rel = 0), count(distinct source_page_id) filter (where gone_on is null), min(first_seen), max(last_seen)
     from link where graph_id = $1 and target_site_id = any($2) and source_site_id <> target_site_id group by 2, 3`,
    [graphId, ids],
  )
  await db.query(
    `insert into link_total (graph_id, target_site_id, links, there, follow, linking_pages, linking_sites)
     select $1, id, coalesce(sum(links), 0), coalesce(sum(there), 0), coalesce(sum(follow), 0), coalesce(sum(pages), 0), count(source_site_id) filter (where there > 0)
     from unnest($2::integer[]) id left join linking_site s on s.graph_id = $1 and s.target_site_id = id group by id
     on conflict (graph_id, target_site_id) do update set links = excluded.links, there = excluded.there, follow = excluded.follow, linking_pages = excluded.linking_pages, linking_sites = excluded.linking_sites, summed_at = now()`,
    [graphId, ids],
  )
  return ids.length
}

/** How much of a graph is known. */
export async function oneGraphSize(
  db: Db,
  graphId: number,
): Promise<{ sites: number; pages: number; fetched: number; links: number }> {
  const { rows } = await db.query<{ sites: number; pages: number; fetched: number; links: number }>(
    `select (select count(*) from linked_site where graph_id = $1) sites, (select count(*) from linked_page where graph_id = $1) pages,
       (select count(*) from page_content where graph_id = $1 and status = 200) fetched, (select count(*) from link where graph_id = $1) links`,
    [graphId],
  )
  return rows[0]!
}
