import { feedBits } from '@dew-trail/core/links/link-codes'
import type { SiteLook } from '@dew-trail/core/links/site-kind'
import type pg from 'pg'
import { copyRows } from '../../platform/db/copy-rows.ts'
import type { Db } from '../../platform/db/pool.ts'
import type { LinkLines } from './link-lines.ts'
import type { SiteSums } from './site-sums.ts'

/** Lets one writer at a time into the addresses of a graph, until the end of the transaction. */
export async function lockAddresses(db: pg.PoolClient, graphId: number): Promise<void> {
  await db.query("select pg_advisory_xact_lock(hashtext('graph addresses'), $1)", [graphId])
}
/** The same for its links. Who needs both takes that of the addresses first. */
export async function lockLinks(db: pg.PoolClient, graphId: number): Promise<void> {
  await db.query("select pg_advisory_xact_lock(hashtext('graph'), $1)", [graphId])
}
/** Lets one writer at a time into a graph, until the end of the transaction. */
export async function lockGraph(db: pg.PoolClient, graphId: number): Promise<void> {
  await lockAddresses(db, graphId)
  await lockLinks(db, graphId)
}

const staged =
  'target_site_id, target_page_id, source_site_id, source_page_id, anchor_id, rel, kind, region, seen_by, linked_around, first_seen, last_seen, gone_on, around, load, target_address_id, source_address_id'

/**
 * Adds links that are surely not in the graph, each once, given by their numbers: straight into the table, without a look for each. Throws
 * PostgreSQL's 23505 when one is there after all.
 */
export async function addLinks(db: pg.PoolClient, links: LinkLines, numbers: Iterable<number>): Promise<void> {
  await copyRows(db, `link (graph_id, ${staged})`, numbers, links.write)
}

/**
 * Notes that the sums of sites are old, because a load writes links to them. Those it `counts`, which it met for the first time, it sums
 * itself unless somebody else wrote links to them before, which a row here or sums tell; all others, and those that another load meant to
 * sum, are reckoned from the table.
 */
export async function noteUnsummed(
  db: pg.PoolClient,
  graphId: number,
  siteIds: readonly number[],
  load: number,
  counts: boolean,
): Promise<void> {
  await db.query(
    `insert into link_unsummed (graph_id, target_site_id, load)
     select $1, u.id, case when $4 and t.target_site_id is null then $3::integer end from unnest($2::integer[]) u (id)
     left join link_total t on t.graph_id = $1 and t.target_site_id = u.id order by 2
     on conflict (graph_id, target_site_id) do update set load = null where link_unsummed.load is distinct from $3`,
    [graphId, siteIds, load, counts],
  )
}

/** Of several ways in which the ends of one link are written the first pair of addresses, that of the pages themselves before all. */
const ends = 'min(coalesce(target_address_id, 0)::bigint << 32 | coalesce(source_address_id, 0))'

/**
 * Adds the links of these numbers. A link that is there already keeps the earliest first and the latest last day; whether it is gone is
 * told by whoever looked last; what only one of both knows is kept. `load`: the load that counts these links, which must have counted those
 * that are there.
 */
export async function mergeLinks(
  db: pg.PoolClient,
  graphId: number,
  links: LinkLines,
  numbers: Iterable<number>,
  load: number | null = null,
): Promise<void> {
  await db.query(
    `create temp table if not exists link_stage (graph_id integer, target_site_id integer, target_page_id integer, source_site_id integer, source_page_id integer, anchor_id integer,
       rel smallint, kind smallint, region smallint, seen_by smallint, linked_around real, first_seen date,
         last_seen date, gone_on date, around text, load integer, target_address_id integer,
         source_address_id integer) on commit delete rows;
     create temp table if not exists link_batch (like link_stage, known boolean) on commit delete rows`,
  )
  await copyRows(db, `link_stage (graph_id, ${staged})`, numbers, links.write)
  await db.query(
    `insert into link_unsummed select distinct $1::integer, target_site_id from link_stage order by 2
     on conflict (graph_id, target_site_id) do update set load = null where link_unsummed.load is distinct from $2`,
    [graphId, load],
  )
  // Two ways to one link within a batch are one. What is known is looked up once, so that new rows are written in the order of their key
  // and without a second look, which takes half the time of an insert that minds conflicts. The graph's lock keeps others out meanwhile.
  const { rows: known } = await db.query<{ known: boolean }>(
    `with batch as (insert into link_batch (${staged}, known)
     select s.*, l.seen_by is not null
       from (select target_site_id, target_page_id, min(source_site_id) source_site_id, source_page_id,
       anchor_id, rel, min(kind) kind, min(region) region, bit_or(seen_by) seen_by, min(linked_around) linked_around,
       min(first_seen), max(last_seen),
         case when bool_or(gone_on is null) then null else max(gone_on) end, min(around), min(load),
         nullif((${ends} >> 32)::integer, 0), nullif((${ends} & 4294967295)::integer, 0)
       from link_stage group by target_site_id, target_page_id, source_page_id, anchor_id, rel) s
     left join lateral (select seen_by from link l where l.graph_id = $1 and l.target_site_id = s.target_site_id
       and l.target_page_id = s.target_page_id and l.source_page_id = s.source_page_id
       and l.anchor_id = s.anchor_id and l.rel = s.rel limit 1) l on true
     returning known) select coalesce(bool_or(known), false) known from batch`,
    [graphId],
  )
  if (load !== null)
    await db.query(
      `update link_unsummed set load = null where graph_id = $1 and load = $2
        and target_site_id in (select target_site_id from link_batch where not known)`,
      [graphId, load],
    )
  await db.query(
    `insert into link (graph_id, ${staged}) select $1, ${staged} from link_batch where not known
      order by target_site_id, target_page_id, source_page_id, anchor_id, rel`,
    [graphId],
  )
  if (!known[0]!.known) return
  // Row by row by the key: of a large graph any other way would read all links.
  await db.query('set local enable_hashjoin = off; set local enable_mergejoin = off')
  await db.query(
    `update link l set first_seen = least(l.first_seen, n.first_seen), last_seen = greatest(l.last_seen, n.last_seen),
       gone_on = case when l.gone_on is not null and n.gone_on is null and n.last_seen <= l.gone_on then l.gone_on
         when l.last_seen is null or n.last_seen >= l.last_seen then n.gone_on else l.gone_on end,
       seen_by = l.seen_by | n.seen_by, load = case when l.load = n.load then l.load end, region = coalesce(n.region,
       l.region), linked_around = coalesce(n.linked_around,
         l.linked_around), around = coalesce(n.around, l.around)
     from link_batch n where n.known and l.graph_id = $1 and l.target_site_id = n.target_site_id
       and l.target_page_id = n.target_page_id and l.source_page_id = n.source_page_id
       and l.anchor_id = n.anchor_id and l.rel = n.rel`,
    [graphId],
  )
  await db.query('set local enable_hashjoin = on; set local enable_mergejoin = on')
}

/** Sites that links of a load lead to, of those in use or those taken back. */
export async function manyTargetsOf(
  db: Db,
  graphId: number,
  load: number,
  table: 'link' | 'link_taken_back',
): Promise<number[]> {
  const { rows } = await db.query<{ id: number }>(
    `select distinct target_site_id id from ${table} where graph_id = $1 and load = $2 order by 1`,
    [graphId, load],
  )
  return rows.map(row => row.id)
}
const noteOld = `insert into link_unsummed (graph_id, target_site_id, load) select $1, u.id, null
  from unnest($3::integer[]) u (id)
  where $2::integer is not null on conflict (graph_id, target_site_id) do update set load = null`
/** Takes links of a load to some sites out of use and gives how many; call under `lockLinks`. */
export async function takeLinksBack(
  db: Db,
  graphId: number,
  load: number,
  siteIds: readonly number[],
): Promise<number> {
  await db.query(noteOld, [graphId, load, siteIds])
  const { rowCount } = await db.query(
    `with gone as (delete from link where graph_id = $1 and load = $2 and target_site_id = any($3)
       returning graph_id, ${staged})
     insert into link_taken_back (graph_id, ${staged}) select graph_id, ${staged} from gone`,
    [graphId, load, siteIds],
  )
  return rowCount ?? 0
}
/** Puts them back, merged with what became known of the same links meanwhile. */
export async function putLinksBack(db: Db, graphId: number, load: number, siteIds: readonly number[]): Promise<number> {
  await db.query(noteOld, [graphId, load, siteIds])
  const { rowCount } = await db.query(
    `with back as (delete from link_taken_back where graph_id = $1 and load = $2 and target_site_id = any($3)
       returning graph_id, ${staged})
     insert into link as l (graph_id, ${staged}) select graph_id, ${staged} from back
     on conflict (graph_id, target_site_id, target_page_id, source_page_id, anchor_id, rel) do update
       set first_seen = least(l.first_seen, excluded.first_seen), last_seen = greatest(l.last_seen,
       excluded.last_seen),
         seen_by = l.seen_by | excluded.seen_by, load = null`,
    [graphId, load, siteIds],
  )
  return rowCount ?? 0
}

/** Sums links by linking site and in all, for up to `most` linked sites whose sums are old. Gives how many it did. */
export async function sumLinks(db: pg.PoolClient, graphId: number, most: number): Promise<number> {
  const { rows } = await db.query<{ id: number }>(
    `delete from link_unsummed where graph_id = $1 and target_site_id in (select target_site_id
      from link_unsummed where graph_id = $1 limit $2) returning target_site_id id`,
    [graphId, most],
  )
  if (!rows.length) return 0
  const ids = rows.map(row => row.id)
  // Two million links are sorted in memory in half the time that they take by way of the disk.
  await db.query("set local work_mem = '256MB'")
  await db.query('delete from linking_site where graph_id = $1 and target_site_id = any($2)', [graphId, ids])
  // Into a table of its own, since the database shares the work of a query among its processes, but not that of an insert.
  await db.query('set local parallel_tuple_cost = 0.01')
  await db.query(
    `create temp table linking_sum on commit drop as
     select target_site_id, source_site_id, count(*) links, count(*) filter (where gone_on is null) there,
       count(*) filter (where gone_on is null and rel = 0) follow,
       count(distinct source_page_id) filter (where gone_on is null) pages, min(first_seen) first_seen,
         max(last_seen) last_seen
     from link where graph_id = ${Number(graphId)} and target_site_id in (${ids.map(Number).join(', ')})
       and source_site_id <> target_site_id group by target_site_id, source_site_id`,
  )
  await db.query(
    `insert into linking_site (graph_id, target_site_id, source_site_id, links, there, follow, pages, first_seen,
      last_seen)
     select $1, target_site_id, source_site_id, links, there, follow, pages, first_seen, last_seen
       from linking_sum order by target_site_id, source_site_id`,
    [graphId],
  )
  await sumTotals(db, graphId, ids)
  return ids.length
}

/** Writes the sums of a load, for the sites whose links nobody else wrote meanwhile. Without sums they are left to `sumLinks`. */
export async function saveSums(db: pg.PoolClient, graphId: number, load: number, sums: SiteSums | null): Promise<void> {
  if (!sums) {
    await db.query('update link_unsummed set load = null where graph_id = $1 and load = $2', [graphId, load])
    return
  }
  const { rows } = await db.query<{ id: number }>(
    'delete from link_unsummed where graph_id = $1 and load = $2 returning target_site_id id',
    [graphId, load],
  )
  const ids = rows.map(row => row.id)
  await copyRows(
    db,
    'linking_site (graph_id, target_site_id, source_site_id, links, there, follow, pages, first_seen, last_seen)',
    sums.of(new Set(ids)),
    (out, at) => {
      out.row(9)
      out.integer(graphId)
      sums.write(out, at)
    },
  )
  await sumTotals(db, graphId, ids)
}

async function sumTotals(db: pg.PoolClient, graphId: number, ids: readonly number[]): Promise<void> {
  await db.query(
    `insert into link_total (graph_id, target_site_id, links, there, follow, linking_pages, linking_sites)
     select $1, id, coalesce(sum(links), 0), coalesce(sum(there), 0), coalesce(sum(follow), 0),
       coalesce(sum(pages), 0), count(source_site_id) filter (where there > 0)
     from unnest($2::integer[]) id left join linking_site s on s.graph_id = $1 and s.target_site_id = id group by id
     on conflict (graph_id, target_site_id) do update set links = excluded.links, there = excluded.there,
       follow = excluded.follow, linking_pages = excluded.linking_pages, linking_sites = excluded.linking_sites,
       summed_at = now()`,
    [graphId, ids],
  )
}

/** How much of a graph is known. */
export async function oneGraphSize(
  db: Db,
  graphId: number,
): Promise<{ sites: number; pages: number; fetched: number; links: number }> {
  const { rows } = await db.query<{ sites: number; pages: number; fetched: number; links: number }>(
    `select (select count(*) from linked_site where graph_id = $1) sites, (select count(*) from linked_page
      where graph_id = $1) pages,
       (select count(*) from page_content where graph_id = $1 and status = 200) fetched, (select count(*)
         from link where graph_id = $1) links`,
    [graphId],
  )
  return rows[0]!
}

export async function manySiteDomains(db: Db, graphId: number): Promise<string[]> {
  const { rows } = await db.query<{ domain: string }>('select domain from linked_site where graph_id = $1', [graphId])
  return rows.map(row => row.domain)
}
export type Standing = {
  domain: string
  standing: number
  trust: number | null
  doubt: number | null
  cluster: number
  linkingSites: number
  network: number | null
  networkReasons: string[] | null
  madeAt: Date
}
/** What the latest snapshot of a graph says of these domains, or of all. */
export async function manyStandings(db: Db, graphId: number, domains: string[] | null): Promise<Standing[]> {
  const { rows } = await db.query<Standing>(
    `select s.domain, t.standing, t.trust, t.doubt, t.cluster, t.linking_sites "linkingSites", t.network,
      t.network_reasons "networkReasons", g.made_at "madeAt"
     from (select id, made_at from graph_snapshot where graph_id = $1 order by id desc limit 1) g
     join site_standing t on t.graph_id = $1 and t.snapshot_id = g.id join linked_site s on s.graph_id = $1
       and s.id = t.site_id
     where $2::text[] is null or s.domain = any($2)`,
    [graphId, domains],
  )
  return rows
}

export type Snapshot = {
  id: number
  madeAt: string
  pages: number
  sites: number
  links: number
  vetted: number
  seconds: number
}
export async function maybeSnapshot(db: Db, graphId: number): Promise<Snapshot | undefined> {
  const { rows } = await db.query<Omit<Snapshot, 'madeAt'> & { madeAt: Date }>(
    `select id, made_at "madeAt", pages, sites, links, vetted,
      (read_ms + rank_ms + coalesce(written_ms, 0)) / 1000.0::float8 seconds from graph_snapshot
      where graph_id = $1 order by id desc limit 1`,
    [graphId],
  )
  return rows[0] && { ...rows[0], madeAt: rows[0].madeAt.toISOString() }
}

/** What the kind of a site is told from: home page as read, and addresses of some of its pages. */
export async function manySiteLooks(db: Db, graphId: number, domains: string[]): Promise<SiteLook[]> {
  const { rows } = await db.query<SiteLook>(
    `select s.domain, coalesce(h.title, '') title, coalesce(h.text, '') "text", coalesce(p.paths, '{}') paths
      from linked_site s
     left join lateral (select c.title, left(c.text, 5000) "text" from linked_page p
       join page_content c on c.graph_id = p.graph_id and c.page_id = p.id
       where p.graph_id = s.graph_id and p.site_id = s.id and c.status = 200 and p.url ~ '^https?://[^/]+/$'
         order by length(p.url) limit 1) h on true
     left join lateral (select array_agg(regexp_replace(url, '^https?://[^/]+', '')) paths
       from (select url from linked_page where graph_id = s.graph_id and site_id = s.id limit 40) u) p on true
     where s.graph_id = $1 and s.domain = any($2)`,
    [graphId, domains],
  )
  return rows
}

/** Addresses of sites, each with the latest day it was told. */
export async function upsertAddresses(
  db: Db,
  graphId: number,
  rows: ReadonlyArray<{ siteId: number; address: string; country: string | null; day: string }>,
): Promise<void> {
  await db.query(
    `insert into site_address select $1, site_id, address, max(country), max(day)
      from unnest($2::integer[], $3::inet[], $4::text[], $5::date[]) d (site_id, address, country, day) group by 2, 3
     on conflict (graph_id, site_id, address) do update
       set seen_on = greatest(site_address.seen_on, excluded.seen_on),
           country = coalesce(excluded.country, site_address.country)`,
    [
      graphId,
      rows.map(row => row.siteId),
      rows.map(row => row.address),
      rows.map(row => row.country),
      rows.map(row => row.day),
    ],
  )
}
/** Keeps how often pages were passed on in social networks, by their ids. */
export async function updateShares(db: Db, graphId: number, shares: ReadonlyMap<number, number>): Promise<void> {
  await db.query(
    `update linked_page p set shares = u.shares from unnest($2::integer[], $3::integer[]) u (id, shares)
     where p.graph_id = $1 and p.id = u.id and p.shares is distinct from u.shares`,
    [graphId, [...shares.keys()], [...shares.values()]],
  )
}

/** Sites by domain that the graph has links of. */
export async function manyTargetSites(
  db: Db,
  graphId: number,
  domains: readonly string[],
): Promise<Array<{ id: number; domain: string }>> {
  const { rows } = await db.query<{ id: number; domain: string }>(
    `select s.id, s.domain from linked_site s join link_total t on t.graph_id = s.graph_id
      and t.target_site_id = s.id where s.graph_id = $1 and s.domain = any($2) and t.linking_sites > 0`,
    [graphId, domains],
  )
  return rows
}

export type LinkerRow = { domain: string; targetIds: number[]; pages: number[]; linksToOwn: boolean }
/** Sites with links that are there to at least two of the targets, those to most of them first: up to `most`, and how many there are. */
export async function manyLinkers(
  db: Db,
  graphId: number,
  targetIds: readonly number[],
  ownDomain: string,
  most: number,
): Promise<{ count: number; rows: LinkerRow[] }> {
  const { rows } = await db.query<LinkerRow & { count: number }>(
    `with own as (select id from linked_site where graph_id = $1 and domain = $3),
       shared as (select source_site_id, array_agg(target_site_id) "targetIds", array_agg(pages) pages,
         sum(follow) follow, count(*) over () count from linking_site
         where graph_id = $1 and target_site_id = any($2) and there > 0 and source_site_id <> all($2)
           and source_site_id not in (select id from own) group by source_site_id having count(*) > 1)
     select s.domain, "targetIds", pages, h.count, exists (select from linking_site o, own where o.graph_id = $1
       and o.target_site_id = own.id and o.source_site_id = h.source_site_id and o.there > 0) "linksToOwn"
     from (select * from shared order by cardinality("targetIds") desc, follow desc, source_site_id limit $4) h
     join linked_site s on s.graph_id = $1 and s.id = h.source_site_id`,
    [graphId, targetIds, ownDomain, most],
  )
  return { count: rows[0]?.count ?? 0, rows }
}

/** The bit by which links are marked that a feed knows, given to it when it is first met. Throws when there are more feeds than bits. */
export async function oneFeedBit(db: Db, feed: string): Promise<number> {
  await db.query(
    `insert into link_feed (name, bit) select $1, b from unnest($2::smallint[]) with ordinality f (b, at)
     where not exists (select from link_feed where bit = b) order by at limit 1 on conflict (name) do nothing`,
    [feed, feedBits],
  )
  const { rows } = await db.query<{ bit: number }>('select bit from link_feed where name = $1', [feed])
  if (!rows[0]) throw new Error(`There are more than ${feedBits.length} link feeds`)
  return rows[0].bit
}
