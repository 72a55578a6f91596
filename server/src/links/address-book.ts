import { hash } from 'node:crypto'
import { getDomain } from 'tldts'
import { Readable } from 'node:stream'
import { pipeline } from 'node:stream/promises'
import type pg from 'pg'
import { from as copyFrom } from 'pg-copy-streams'
import { copyField } from '../imports/copy-line.ts'

/** Key of an address or text: its MD5 as a UUID. */
export function textKey(text: string): string {
  const hex = hash('md5', text)
  return `${hex.slice(0, 8)}-${hex.slice(8, 12)}-${hex.slice(12, 16)}-${hex.slice(16, 20)}-${hex.slice(20)}`
}

/** The site of an address: its registrable domain, or its host where there is none. */
export function domainOf(url: string): string {
  const from = url.indexOf('//') + 2
  const end = url.indexOf('/', from)
  return hostDomain(end < 0 ? url.slice(from) : url.slice(from, end))
}
const hostDomain = (host: string): string => getDomain(host) ?? host.replace(/:\d+$/, '')

/** What addresses are looked up by: their sites and keys, as lists for `unnest`. */
export const addressKeys = (urls: readonly string[]): [domains: string[], keys: string[]] => [
  urls.map(domainOf),
  urls.map(textKey),
]

/** Names remembered at most (`forgetIfFull`), so that a long load keeps its memory. */
const mostRemembered = 1_500_000

/** Anchors are cut to this many characters: longer ones are whole paragraphs inside a link. */
const longestAnchor = 500

/** Names of one kind, each with its place: the order in which they were first met. */
class Names {
  readonly #places = new Map<string, number>()
  /** Ids of the names at the first places; those behind have none yet. */
  ids: number[] = []
  #pending: string[] = []

  get size(): number {
    return this.#places.size
  }
  at(name: string): number {
    const known = this.#places.get(name)
    if (known !== undefined) return known
    const place = this.#places.size
    // A copy: a piece of a longer text would keep all of it in memory.
    const copy = Buffer.from(name).toString()
    this.#places.set(copy, place)
    this.#pending.push(copy)
    return place
  }
  /** Names that nobody has taken to give them ids, in order. */
  take(): string[] {
    const taken = this.#pending
    this.#pending = []
    return taken
  }
  need(name: string): number {
    const id = this.ids[this.#places.get(name) ?? -1]
    if (id === undefined) throw new Error(`"${name}" was not learnt before it was used`)
    return id
  }
  clear(): void {
    this.#places.clear()
    this.ids = []
    this.#pending = []
  }
}

/** The least ids that a `learn` gave anew: what has one of them or a higher one was in no link before. */
export type NewIds = { page: number; anchor: number }

/**
 * Integer ids of addresses, domains and anchors of one graph. Each is looked up by its text once and has a place in the book from then
 * on; `learn` finds or makes the ids. New ones are written by COPY, which is safe because writers of a graph hold its lock
 * (`lockGraph`). After a rollback `forget` must be called: what it remembers may not be there.
 */
export class AddressBook {
  readonly #graphId: number
  readonly #pages = new Names()
  /** Sites of pages, by the page's place. */
  #pageSites: number[] = []
  readonly #sites = new Names()
  readonly #anchors = new Names()
  readonly #domains = new Map<string, string>()

  constructor(graphId: number) {
    this.#graphId = graphId
  }

  forget(): void {
    this.#pages.clear()
    this.#pageSites = []
    this.#sites.clear()
    this.#anchors.clear()
  }
  get isFull(): boolean {
    return this.#pages.size > mostRemembered || this.#anchors.size > mostRemembered
  }
  /** Begins anew when too much is remembered: places that were given before are void then. */
  forgetIfFull(): void {
    if (this.isFull) this.forget()
  }

  /** Place of an address, to be learnt when it is new. */
  pageAt(url: string): number {
    return this.#pages.at(url)
  }
  anchorAt(text: string): number {
    return this.#anchors.at(text.slice(0, longestAnchor))
  }
  pageId(place: number): number {
    return this.#pages.ids[place]!
  }
  siteId(place: number): number {
    return this.#pageSites[place]!
  }
  anchorId(place: number): number {
    return this.#anchors.ids[place]!
  }

  page(url: string): number {
    return this.#pages.need(url)
  }
  /** The site of an address. */
  site(url: string): number {
    return this.#sites.need(this.domain(url))
  }

  domain(url: string): string {
    const from = url.indexOf('//') + 2
    const end = url.indexOf('/', from)
    const host = end < 0 ? url.slice(from) : url.slice(from, end)
    let known = this.#domains.get(host)
    if (known === undefined) {
      known = hostDomain(host)
      if (this.#domains.size > 500_000) this.#domains.clear()
      this.#domains.set(host, known)
    }
    return known
  }

  /** Finds or makes the ids of these addresses and of all else that has a place by now. One `learn` at a time. */
  async learn(db: pg.PoolClient, urls: Iterable<string> = []): Promise<NewIds> {
    for (const url of urls) this.#pages.at(url)
    // More may be met while these are learnt.
    const newPages = this.#pages.take()
    const newAnchors = this.#anchors.take()
    const domains = newPages.map(url => this.domain(url))
    for (const domain of domains) this.#sites.at(domain)
    const site = await learnNames(db, this.#graphId, sites, this.#sites.take())
    for (const id of site.ids) this.#sites.ids.push(id)
    const siteIds = domains.map(domain => this.#sites.need(domain))
    // Pages of a site that is new are new.
    const page = await learnNames(db, this.#graphId, pages, newPages, siteIds, siteId => siteId >= site.firstNew)
    for (const id of page.ids) this.#pages.ids.push(id)
    for (const id of siteIds) this.#pageSites.push(id)
    const anchor = await learnNames(db, this.#graphId, anchors, newAnchors)
    for (const id of anchor.ids) this.#anchors.ids.push(id)
    return { page: page.firstNew, anchor: anchor.firstNew }
  }
}

type Table = { table: string; sequence: string; columns: string; keyColumn: string; keyType: 'uuid' | 'text' }
const pages: Table = {
  table: 'linked_page',
  sequence: 'linked_page_id',
  columns: 'graph_id, id, site_id, url_key, url',
  keyColumn: 'url_key',
  keyType: 'uuid',
}
const anchors: Table = {
  table: 'anchor_text',
  sequence: 'anchor_text_id',
  columns: 'graph_id, id, text_key, text',
  keyColumn: 'text_key',
  keyType: 'uuid',
}
const sites: Table = {
  table: 'linked_site',
  sequence: 'linked_site_id',
  columns: 'graph_id, id, domain',
  keyColumn: 'domain',
  keyType: 'text',
}

/** Finds or makes the ids of names; those that `isNew` knows to be new are not looked for. */
async function learnNames(
  db: pg.PoolClient,
  graphId: number,
  spec: Table,
  names: readonly string[],
  siteIds: readonly number[] | null = null,
  isNew: (siteId: number) => boolean = () => false,
): Promise<{ ids: Int32Array; firstNew: number }> {
  const ids = new Int32Array(names.length)
  if (!names.length) return { ids, firstNew: Number.POSITIVE_INFINITY }
  const hashed = spec.keyType === 'uuid'
  // PostgreSQL reads a UUID without its hyphens just as well.
  const keys = hashed ? names.map(name => hash('md5', name)) : names
  const asked: number[] = []
  for (let i = 0; i < names.length; i++) if (!siteIds || !isNew(siteIds[i]!)) asked.push(i)
  if (asked.length) {
    // Each name is looked up by the index, whatever the table's statistics say of a load under way.
    const { rows } = await db.query<{ at: number; id: number }>(
      `select u.at::integer, t.id from unnest($2::${spec.keyType}[]${siteIds ? ', $3::integer[]' : ''}) with ordinality u (key, ${siteIds ? 'site_id, ' : ''}at)
       cross join lateral (select id from ${spec.table} t where t.graph_id = $1 and ${siteIds ? 't.site_id = u.site_id and ' : ''}t.${spec.keyColumn} = u.key limit 1) t`,
      [graphId, asked.map(i => keys[i]!), ...(siteIds ? [asked.map(i => siteIds[i]!)] : [])],
    )
    for (const { at, id } of rows) ids[asked[at - 1]!] = id
  }
  const missing: number[] = []
  for (let i = 0; i < ids.length; i++) if (!ids[i]) missing.push(i)
  let firstNew = Number.POSITIVE_INFINITY
  if (missing.length) {
    // In the order of their index, in which new rows are written fastest.
    if (siteIds) missing.sort((a, b) => siteIds[a]! - siteIds[b]! || (keys[a]! < keys[b]! ? -1 : 1))
    firstNew = await reserveIds(db, spec.sequence, missing.length)
    for (let at = 0; at < missing.length; at++) ids[missing[at]!] = firstNew + at
    const line = (i: number): string => {
      const middle = hashed ? `${siteIds ? `${siteIds[i]}\t` : ''}${keys[i]}\t` : ''
      return `${graphId}\t${ids[i]}\t${middle}${copyField(names[i]!)}\n`
    }
    const lines = function* (): Generator<string> {
      for (let at = 0; at < missing.length; at += 2_000)
        yield missing
          .slice(at, at + 2_000)
          .map(line)
          .join('')
    }
    await pipeline(Readable.from(lines()), db.query(copyFrom(`copy ${spec.table} (${spec.columns}) from stdin`)))
  }
  return { ids, firstNew }
}

/** Takes a run of ids and gives the first of them. Nobody else takes any until the end of the transaction. */
async function reserveIds(db: pg.PoolClient, sequence: string, count: number): Promise<number> {
  await db.query("select pg_advisory_xact_lock(hashtext('graph ids'))")
  const { rows } = await db.query<{ last: number }>(
    'select setval($1::regclass, nextval($1::regclass) + $2 - 1) last',
    [sequence, count],
  )
  return rows[0]!.last - count + 1
}
