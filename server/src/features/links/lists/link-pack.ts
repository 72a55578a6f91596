import { type LinkColumns, chosenLinks } from '@dew-trail/core/links/link-columns'
import { seenByBits } from '@dew-trail/core/links/link-codes'
import { LRUCache } from 'lru-cache'
import type pg from 'pg'
import { packedNumbers } from '../../../platform/db/packed.ts'
import { inTransaction } from '../../../platform/db/pool.ts'
import { graphId, latestSql, type LinkScope } from './link-scope.ts'

/** What the latest snapshot says of linking sites. */
export type SiteFacts = { standing: number | null; trust: number | null; networked: boolean }
/**
 * All links from other sites to one site, with what is worked out from them (`memo`, by name). It stays in memory until links or figures of
 * the graph change: at two million links the database takes seconds for each sum, and this milliseconds.
 */
export type LinkPack = {
  links: LinkColumns
  sites: Map<number, SiteFacts>
  /** Pages that are home pages, by id. */
  homes: Set<number>
  memo: Map<string, unknown>
}

const mostBytes = 600_000_000
/** Sums that are kept beside the links of one site; a choice that was looked at longest ago goes first. */
const mostMemos = 40
type Version = { version: string; count: number }
type Held = { version: string; pack: Promise<LinkPack>; count: number }
const held = new WeakMap<pg.Pool, LRUCache<number, Held>>()
/** Questions for a version that are under way: what one request needs at once it asks once. */
const asking = new WeakMap<pg.Pool, Map<number, Promise<Version>>>()

/** The links to the site of a scope. */
export async function readPack(pool: pg.Pool, { siteNumber }: LinkScope): Promise<LinkPack> {
  let cache = held.get(pool)
  if (!cache)
    held.set(pool, (cache = new LRUCache({ maxSize: mostBytes, sizeCalculation: ({ count }) => 4_000 + count * 60 })))
  let questions = asking.get(pool)
  if (!questions) asking.set(pool, (questions = new Map()))
  let reading = questions.get(siteNumber)
  if (!reading) {
    reading = versionOf(pool, siteNumber).finally(() => asking.get(pool)!.delete(siteNumber))
    questions.set(siteNumber, reading)
  }
  const { version, count } = await reading
  const known = cache.get(siteNumber)
  if (known?.version === version) return known.pack
  const pack = queryPack(pool, siteNumber)
  cache.set(siteNumber, { version, pack, count })
  pack.catch(() => cache.delete(siteNumber))
  return pack
}

/** Which links of a pack a scope means, 1 or 0 each. */
export const chosenOf = (pack: LinkPack, scope: LinkScope, age = scope.age): Uint8Array =>
  memo(pack, `chosen ${scopeKey(scope, age)}`, () =>
    chosenLinks(pack.links, {
      age,
      goneSince: scope.goneSince === null ? 0 : dayNumber(scope.goneSince),
      targets: scope.pages === null ? null : new Set(scope.pages),
      sources: scope.sources,
    }),
  )
/** A result that depends on the pack and a scope alone, worked out once. */
export function memo<T>(pack: LinkPack, key: string, work: () => T): T {
  if (pack.memo.has(key)) return pack.memo.get(key) as T
  const made = work()
  if (pack.memo.size >= mostMemos) pack.memo.delete(pack.memo.keys().next().value!)
  pack.memo.set(key, made)
  return made
}
/** The same of what comes later; what failed is worked out anew. */
export function memoLater<T>(pack: LinkPack, key: string, work: () => Promise<T>): Promise<T> {
  return memo(pack, key, () => {
    const made = work()
    made.catch(() => pack.memo.delete(key))
    return made
  })
}
export const scopeKey = ({ pages, goneSince, sources }: LinkScope, age: LinkScope['age']): string =>
  `${age} ${age === 'lost' ? goneSince : ''} ${sources ?? ''} ${pages?.join() ?? ''}`

const dayMs = 86_400_000
export const dayNumber = (iso: string): number => Math.floor(Date.parse(iso) / dayMs)
/** A day since 1970 as YYYY-MM-DD; null for 0, unknown. */
export const dayText = (day: number): string | null =>
  day === 0 ? null : new Date(day * dayMs).toISOString().slice(0, 10)

/** What differs whenever links to a site, or figures of the graph, have changed; and about how many links there are. */
async function versionOf(pool: pg.Pool, siteNumber: number): Promise<Version> {
  const { rows } = await pool.query<Version>(
    `select concat_ws(':', ${latestSql}, (select xmin::text from link_total
      where graph_id = $1 and target_site_id = $2),
       count(*), sum(links), sum(there), sum(follow), max(last_seen), min(first_seen),
       (select count(*) from vetted_site where graph_id = $1 and not refused)) version,
       coalesce(sum(links), 0)::integer count
     from linking_site where graph_id = $1 and target_site_id = $2`,
    [graphId, siteNumber],
  )
  return rows[0]!
}

async function queryPack(pool: pg.Pool, siteNumber: number): Promise<LinkPack> {
  const day = (name: string): string => `string_agg(int4send(coalesce(l.${name} - date '1970-01-01', 0)), '')
    "${name}"`
  const int = (name: string): string => `string_agg(int4send(l.${name}), '') "${name}"`
  const flag = (test: string, name: string): string =>
    `string_agg(case when ${test} then '\\x01'::bytea else '\\x00' end, '') "${name}"`
  return inTransaction(pool, async db => {
    // Sorting on disk takes twice the time.
    await db.query("set local work_mem = '256MB'")
    const { rows } = await db.query<Record<string, Buffer> & { count: number }>(
      `select count(*)::integer count, ${int('source_site_id')}, ${int('source_page_id')}, ${int('target_page_id')},
         ${int('anchor_id')}, string_agg(int2send(l.rel), '') rel, string_agg(int2send(l.kind), '') kind,
         string_agg(int2send(coalesce(l.region, -1::smallint)), '') region,
         ${day('first_seen')}, ${day('last_seen')}, ${day('gone_on')},
         ${flag(`l.seen_by <> ${seenByBits.crawl}`, 'dated')}, ${flag('l.secure', 'secure')},
         string_agg(int2send(l.seen_by), '') "seenBy",
         string_agg(int2send(coalesce(round(100 * l.linked_around), 255)::smallint), '') around,
         string_agg(int2send(case when l.language ~ '^[a-z]{2}$'
           then ascii(l.language) * 256 + ascii(right(l.language, 1)) else 0 end::smallint), '') "language"
       from (
         select l.*, coalesce(a.url, p.url) like 'https:%' secure, c.language from link l
         join linked_page p on p.graph_id = $1 and p.id = l.source_page_id
         left join linked_page_address a on a.graph_id = $1 and a.id = l.source_address_id
         left join page_content c on c.graph_id = $1 and c.page_id = l.source_page_id
         where l.graph_id = $1 and l.target_site_id = $2 and l.source_site_id <> l.target_site_id
         order by l.source_site_id, l.source_page_id, l.target_page_id, l.anchor_id, l.rel
       ) l`,
      [graphId, siteNumber],
    )
    const row = rows[0]!
    const bytes = (name: string): Buffer => row[name] ?? Buffer.alloc(0)
    const ints = (name: string): Int32Array => new Int32Array(packedNumbers(row[name] ?? null, 4))
    const shorts = (name: string): Int16Array => new Int16Array(packedNumbers(row[name] ?? null, 2))
    const links: LinkColumns = {
      count: row.count,
      site: ints('source_site_id'),
      page: ints('source_page_id'),
      target: ints('target_page_id'),
      anchor: ints('anchor_id'),
      rel: shorts('rel'),
      kind: Uint8Array.from(shorts('kind')),
      region: Int8Array.from(shorts('region')),
      first: ints('first_seen'),
      last: ints('last_seen'),
      gone: ints('gone_on'),
      dated: new Uint8Array(bytes('dated')),
      secure: new Uint8Array(bytes('secure')),
      seenBy: shorts('seenBy'),
      around: Uint8Array.from(shorts('around')),
      language: Uint16Array.from(shorts('language')),
    }
    const { rows: sites } = await db.query<SiteFacts & { id: number }>(
      `select t.site_id id, t.standing, t.trust, t.network is not null networked
       from linking_site l join site_standing t on t.graph_id = $1 and t.site_id = l.source_site_id
         and t.snapshot_id = ${latestSql}
       where l.graph_id = $1 and l.target_site_id = $2`,
      [graphId, siteNumber],
    )
    const { rows: homes } = await db.query<{ id: number }>(
      `select id from linked_page where graph_id = $1 and site_id = $2 and url ~ '^https?://[^/]+/?$'`,
      [graphId, siteNumber],
    )
    return {
      links,
      sites: new Map(sites.map(({ id, ...facts }) => [id, facts])),
      homes: new Set(homes.map(each => each.id)),
      memo: new Map(),
    }
  })
}
