import { registrableDomain } from '@dew-trail/core/links/registrable-domain'
import { storableText } from '@dew-trail/core/text/storable-text'
import type pg from 'pg'
import { copyRows } from '../../platform/db/copy-rows.ts'
import { CellCodes } from '../../platform/files/cell-codes.ts'
import { domainOf, textDigest, textKey } from '../pages/page-key.ts'
import { GrowingInts } from './growing-ints.ts'

const keyBytes = 16
const slash = 47

/** What addresses are looked up by: their sites and keys, as lists for `unnest`. */
export const addressKeys = (urls: readonly string[]): [domains: string[], keys: string[]] => [
  urls.map(domainOf),
  urls.map(textKey),
]

/** Names and their bytes remembered at most (`forgetIfFull`), so that a long load keeps its memory. */
const mostRemembered = 1_500_000
const mostBytes = 256_000_000

/** Anchors are cut to this many characters: longer ones are whole paragraphs inside a link. */
const longestAnchor = 500

const scratch = Buffer.allocUnsafe(16_384)
/** UTF-8 of a text, good until the next call. */
const bytesOf = (text: string): Buffer =>
  text.length * 3 <= scratch.length ? scratch.subarray(0, scratch.write(text)) : Buffer.from(text)

/** Names of one kind, each with its place: the order in which they were first met. They are kept as bytes: a million texts are slow to keep. */
class Names {
  readonly #codes = new CellCodes()
  /** Ids of the names by place, 0 = none yet. */
  #ids = new Int32Array(1_024)
  #taken = 0

  get size(): number {
    return this.#codes.count
  }
  get isFull(): boolean {
    return this.size > mostRemembered || this.#codes.bytes > mostBytes
  }
  at(name: string): number {
    const bytes = bytesOf(storableText(name))
    return this.#codes.at(bytes, 0, bytes.length)
  }
  /** Place of a name given as its bytes, -1 when it has none. */
  find(bytes: Buffer, from: number, to: number): number {
    return this.#codes.find(bytes, from, to)
  }
  /** UTF-8 of all names, good until the next one is met: that of a place is from `start(place)` to `start(place + 1)`. */
  get contents(): Buffer {
    return this.#codes.contents
  }
  start(position: number): number {
    return this.#codes.start(position)
  }
  bytes(position: number): Buffer {
    return this.contents.subarray(this.start(position), this.start(position + 1))
  }
  /** Places of names that nobody has taken to give them ids. */
  take(): Positions {
    const from = this.#taken
    this.#taken = this.size
    return { from, to: this.size }
  }
  /** Gives ids to the names from a place on. */
  giveIds(from: number, ids: Int32Array): void {
    if (from + ids.length > this.#ids.length) {
      const larger = new Int32Array(Math.max(from + ids.length, this.#ids.length * 2))
      larger.set(this.#ids)
      this.#ids = larger
    }
    this.#ids.set(ids, from)
  }
  id(position: number): number {
    return this.#ids[position]!
  }
  need(name: string): number {
    const id = this.#ids[this.at(name)]
    if (!id) throw new Error(`"${name}" was not learnt before it was used`)
    return id
  }
  clear(): void {
    this.#codes.clear()
    this.#ids.fill(0)
    this.#taken = 0
  }
}

type Positions = { from: number; to: number }

/** The least ids that a `learn` gave anew: what has one of them or a higher one was in no link before. */
type NewIds = { page: number; anchor: number }

const noId = Number.POSITIVE_INFINITY

/**
 * Integer ids of addresses, domains and anchors of one graph. Each is looked up by its text once and has a place in the book from then
 * on; `learn` finds or makes the ids. New ones are written by COPY, which is safe because writers of a graph hold its lock
 * (`lockGraph`). After a rollback `forget` must be called: what it remembers may not be there.
 */
export class AddressBook {
  readonly #graphId: number
  readonly #pages = new Names()
  /** Places of the sites of pages, by the page's place. */
  readonly #pageSites = new GrowingInts()
  readonly #sites = new Names()
  readonly #anchors = new Names()
  /** Hosts of pages, and the places of their sites. */
  readonly #hosts = new CellCodes()
  #hostSites: number[] = []
  /** The least id of a site that only this book can have made pages of, and the last id of a page that anybody had when it made its last. */
  #firstSite = noId
  #lastPage = 0

  constructor(graphId: number) {
    this.#graphId = graphId
  }

  forget(): void {
    this.#pages.clear()
    this.#pageSites.clear()
    this.#sites.clear()
    this.#hosts.clear()
    this.#hostSites = []
    this.#anchors.clear()
    this.#firstSite = noId
  }
  get isFull(): boolean {
    return this.#pages.isFull || this.#anchors.isFull
  }
  /** Begins anew when too much is remembered: places that were given before are void then. */
  forgetIfFull(): void {
    if (this.isFull) this.forget()
  }

  /** Place of an address, to be learnt when it is new. */
  pageAt(url: string): number {
    const before = this.#pages.size
    const position = this.#pages.at(url)
    if (position === before) this.#pageSites.push(this.#siteAt(position))
    return position
  }
  /** Place of an address given as its UTF-8, -1 when it has none. */
  findPage(bytes: Buffer, from: number, to: number): number {
    return this.#pages.find(bytes, from, to)
  }
  anchorAt(text: string): number {
    return this.#anchors.at(text.slice(0, longestAnchor))
  }
  pageId(position: number): number {
    return this.#pages.id(position)
  }
  siteId(position: number): number {
    return this.#sites.id(this.#pageSites.get(position))
  }
  anchorId(position: number): number {
    return this.#anchors.id(position)
  }

  page(url: string): number {
    return this.#pages.need(url)
  }
  /** The site of an address. */
  site(url: string): number {
    return this.#sites.need(domainOf(url))
  }

  /** Place of the site of a page. */
  #siteAt(page: number): number {
    const { contents } = this.#pages
    const end = this.#pages.start(page + 1)
    const from = contents.indexOf('//', this.#pages.start(page)) + 2
    let to = from
    while (to < end && contents[to] !== slash) to++
    const code = this.#hosts.at(contents, from, to)
    return (this.#hostSites[code] ??= this.#sites.at(registrableDomain(contents.toString('utf8', from, to))))
  }

  /** Finds or makes the ids of these addresses and of all else that has a place by now. One `learn` at a time. */
  async learn(db: pg.PoolClient, urls: Iterable<string> = []): Promise<NewIds> {
    for (const url of urls) this.pageAt(url)
    // More may be met while these are learnt.
    const [newPages, newSites, newAnchors] = [this.#pages.take(), this.#sites.take(), this.#anchors.take()]
    const site = await learnNames(db, this.#graphId, sites, this.#sites, newSites)
    // Pages of a site that is new are new. So are those of sites that were made since somebody else last made pages.
    const { rows } = await db.query<{ last: number }>('select last_value::integer last from linked_page_id')
    if (rows[0]!.last !== this.#lastPage) this.#firstSite = noId
    this.#firstSite = Math.min(this.#firstSite, site.first)
    const siteIds = new Int32Array(newPages.to - newPages.from)
    for (let i = 0; i < siteIds.length; i++) siteIds[i] = this.siteId(newPages.from + i)
    const page = await learnNames(db, this.#graphId, pages, this.#pages, newPages, {
      siteIds,
      newFrom: this.#firstSite,
    })
    this.#lastPage = page.last ?? rows[0]!.last
    const anchor = await learnNames(db, this.#graphId, anchors, this.#anchors, newAnchors)
    return { page: page.first, anchor: anchor.first }
  }
}

type Table = { table: string; sequence: string; columns: string; key: 'uuid' | 'text' }
const pages: Table = {
  table: 'linked_page',
  sequence: 'linked_page_id',
  columns: 'graph_id, id, site_id, url_key, url',
  key: 'uuid',
}
const anchors: Table = {
  table: 'anchor_text',
  sequence: 'anchor_text_id',
  columns: 'graph_id, id, text_key, text',
  key: 'uuid',
}
const sites: Table = { table: 'linked_site', sequence: 'linked_site_id', columns: 'graph_id, id, domain', key: 'text' }

/** Ids of sites by page, in the order of the pages; pages of a site with an id from `newFrom` on are surely new. */
type OfSites = { siteIds: Int32Array; newFrom: number }

/** Finds or makes the ids of the names at some places. Gives the first and the last that it made. */
async function learnNames(
  db: pg.PoolClient,
  graphId: number,
  spec: Table,
  names: Names,
  { from, to }: Positions,
  of: OfSites | null = null,
): Promise<{ first: number; last: number | null }> {
  const count = to - from
  if (!count) return { first: noId, last: null }
  const ids = new Int32Array(count)
  const keys = spec.key === 'uuid' ? keysOf(names, from, to) : null
  await findIds(db, graphId, spec, names, from, keys, ids, of)
  const missing: number[] = []
  for (let i = 0; i < count; i++) if (!ids[i]) missing.push(i)
  let first = noId
  if (missing.length) {
    const inOrder = of ? inSiteOrder(missing, of.siteIds) : missing
    first = await reserveIds(db, spec.sequence, missing.length)
    for (const [at, i] of inOrder.entries()) ids[i] = first + at
    await copyRows(db, `${spec.table} (${spec.columns})`, inOrder, (out, i) => {
      out.row(of ? 5 : keys ? 4 : 3)
      out.integer(graphId)
      out.integer(ids[i]!)
      if (of) out.integer(of.siteIds[i]!)
      if (keys) out.bytes(keys, i * keyBytes, (i + 1) * keyBytes)
      out.bytes(names.contents, names.start(from + i), names.start(from + i + 1))
    })
  }
  names.giveIds(from, ids)
  return { first, last: missing.length ? first + missing.length - 1 : null }
}

/** Keys of the names at some places, one after another. */
function keysOf(names: Names, from: number, to: number): Buffer {
  const keys = Buffer.allocUnsafe((to - from) * keyBytes)
  for (let i = from; i < to; i++) keys.set(textDigest(names.bytes(i)), (i - from) * keyBytes)
  return keys
}

/** Looks up names by their keys, except those that are surely new: each by the index, whatever the table's statistics say of a load under way. */
async function findIds(
  db: pg.PoolClient,
  graphId: number,
  spec: Table,
  names: Names,
  from: number,
  keys: Buffer | null,
  ids: Int32Array,
  of: OfSites | null,
): Promise<void> {
  const missing: number[] = []
  for (let i = 0; i < ids.length; i++) if (!of || of.siteIds[i]! < of.newFrom) missing.push(i)
  if (!missing.length) return
  const keyColumn = keys ? (of ? 'url_key' : 'text_key') : 'domain'
  // PostgreSQL reads a UUID without its hyphens just as well, and one text of all sooner than a list of them.
  const asText = (list: string[]): string => `{${list.join(',')}}`
  const { rows } = await db.query<{ at: number; id: number }>(
    `select u.at::integer, t.id from unnest($2::${spec.key}[]${of ? ', $3::integer[]' : ''})
      with ordinality u (key, ${of ? 'site_id, ' : ''}at)
     cross join lateral (select id from ${spec.table} t where t.graph_id = $1
       and ${of ? 't.site_id = u.site_id and ' : ''}t.${keyColumn} = u.key limit 1) t`,
    [
      graphId,
      keys
        ? asText(missing.map(i => keys.toString('hex', i * keyBytes, (i + 1) * keyBytes)))
        : missing.map(i => names.bytes(from + i).toString()),
      ...(of ? [asText(missing.map(i => String(of.siteIds[i])))] : []),
    ],
  )
  for (const { at, id } of rows) ids[missing[at - 1]!] = id
}

/** New pages in the order of their sites, in which their index takes them fastest. */
function inSiteOrder(pages: readonly number[], siteIds: Int32Array): number[] {
  // Site and page in one number, since numbers are sorted much sooner without a function.
  const order = new Float64Array(pages.length)
  const step = siteIds.length
  for (const [k, i] of pages.entries()) order[k] = siteIds[i]! * step + i
  return [...order.sort()].map(both => both % step)
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
