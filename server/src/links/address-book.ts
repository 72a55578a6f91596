import { hash } from 'node:crypto'
import { getDomain } from 'tldts'
import { Readable } from 'node:stream'
import { pipeline } from 'node:stream/promises'
import type pg from 'pg'
import { from as copyFrom } from 'pg-copy-streams'
import { copyLine } from '../imports/copy-line.ts'

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

/** Names remembered at most; then a book begins anew, so that a long load keeps its memory. */
const mostRemembered = 1_500_000
type Table = { table: string; sequence: string; keyColumn: string; textColumn: string }
const pages: Table = { table: 'linked_page', sequence: 'linked_page_id', keyColumn: 'url_key', textColumn: 'url' }
const anchors: Table = { table: 'anchor_text', sequence: 'anchor_text_id', keyColumn: 'text_key', textColumn: 'text' }
const sites: Table = { table: 'linked_site', sequence: 'linked_site_id', keyColumn: 'domain', textColumn: 'domain' }

/**
 * Integer ids of addresses, domains and anchors of one graph. New ones are written by COPY, which is safe because writers of a graph
 * hold its lock (`lockGraph`). After a rollback `forget` must be called: what it remembers may not be there.
 */
export class AddressBook {
  readonly #graphId: number
  /** Places in the two lists behind it. */
  readonly #pages = new Map<string, number>()
  #pageIds: number[] = []
  #pageSites: number[] = []
  readonly #sites = new Map<string, number>()
  readonly #anchors = new Map<string, number>()
  readonly #domains = new Map<string, string>()

  constructor(graphId: number) {
    this.#graphId = graphId
  }

  forget(): void {
    this.#forgetPages()
    this.#sites.clear()
    this.#anchors.clear()
  }

  #forgetPages(): void {
    this.#pages.clear()
    this.#pageIds = []
    this.#pageSites = []
  }

  page(url: string): number {
    return this.#pageIds[this.#need(this.#pages, url)]!
  }
  /** The site of an address. */
  site(url: string): number {
    return this.#pageSites[this.#need(this.#pages, url)]!
  }
  /** Site and page of an address, as the fields of a COPY line. */
  fields(url: string): string {
    const at = this.#need(this.#pages, url)
    return `${this.#pageSites[at]}\t${this.#pageIds[at]}`
  }
  anchor(text: string): number {
    return this.#need(this.#anchors, text)
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

  /** Learns these names, writing those that are new. */
  async learn(db: pg.PoolClient, urls: Iterable<string>, texts: Iterable<string> = []): Promise<void> {
    if (this.#pages.size > mostRemembered) this.#forgetPages()
    if (this.#anchors.size > mostRemembered) this.#anchors.clear()
    const unknown = new Set<string>()
    const domains = new Set<string>()
    for (const url of urls) {
      if (this.#pages.has(url)) continue
      unknown.add(url)
      const domain = this.domain(url)
      if (!this.#sites.has(domain)) domains.add(domain)
    }
    await this.#learn(db, sites, [...domains], (name, id) => this.#sites.set(name, id))
    await this.#learn(db, pages, [...unknown], (url, id, site) => {
      this.#pages.set(url, this.#pageIds.length)
      this.#pageIds.push(id)
      this.#pageSites.push(site)
    })
    await this.#learn(
      db,
      anchors,
      [...new Set(texts)].filter(text => !this.#anchors.has(text)),
      (text, id) => this.#anchors.set(text, id),
    )
  }

  async #learn(
    db: pg.PoolClient,
    spec: Table,
    names: string[],
    remember: (name: string, id: number, site: number) => void,
  ): Promise<void> {
    if (!names.length) return
    const { table, sequence, keyColumn, textColumn } = spec
    const hashed = keyColumn !== textColumn
    const keys = hashed ? names.map(textKey) : names
    const siteIds = spec === pages ? names.map(name => this.#need(this.#sites, this.domain(name))) : null
    // Each name is looked up by the index, whatever the table's statistics say of a load under way.
    const { rows } = await db.query<{ at: number; id: number }>(
      `select u.at::integer, t.id from unnest($2::${hashed ? 'uuid' : 'text'}[]${siteIds ? ', $3::integer[]' : ''}) with ordinality u (key, ${siteIds ? 'site_id, ' : ''}at)
       cross join lateral (select id from ${table} t where t.graph_id = $1 and ${siteIds ? 't.site_id = u.site_id and ' : ''}t.${keyColumn} = u.key limit 1) t`,
      siteIds ? [this.#graphId, keys, siteIds] : [this.#graphId, keys],
    )
    const isKnown = new Uint8Array(names.length)
    for (const { at, id } of rows) {
      isKnown[at - 1] = 1
      remember(names[at - 1]!, id, siteIds ? siteIds[at - 1]! : id)
    }
    const missing: number[] = []
    for (let i = 0; i < names.length; i++) if (!isKnown[i]) missing.push(i)
    if (!missing.length) return
    // In the order of their index, in which new rows are written fastest.
    if (siteIds) missing.sort((a, b) => siteIds[a]! - siteIds[b]!)
    const { rows: ids } = await db.query<{ id: number }>(
      `select nextval('${sequence}')::integer id from generate_series(1, $1)`,
      [missing.length],
    )
    const lines: string[] = []
    missing.forEach((i, at) => {
      const name = names[i]!
      const { id } = ids[at]!
      remember(name, id, siteIds ? siteIds[i]! : id)
      const fields: Array<string | number> = [this.#graphId, id]
      if (spec === pages) fields.push(siteIds![i]!, keys[i]!, name)
      else if (spec === anchors) fields.push(keys[i]!, name)
      else fields.push(name)
      lines.push(copyLine(fields))
    })
    const columns =
      spec === pages
        ? 'graph_id, id, site_id, url_key, url'
        : spec === anchors
          ? 'graph_id, id, text_key, text'
          : 'graph_id, id, domain'
    await pipeline(Readable.from([lines.join('')]), db.query(copyFrom(`copy ${table} (${columns}) from stdin`)))
  }

  #need(map: Map<string, number>, name: string): number {
    const id = map.get(name)
    if (id === undefined) throw new Error(`"${name}" was not learnt before it was used`)
    return id
  }
}
