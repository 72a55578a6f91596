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
  readonly #pages = new Map<string, number>()
  readonly #sites = new Map<string, number>()
  readonly #anchors = new Map<string, number>()
  readonly #domains = new Map<string, string>()

  constructor(graphId: number) {
    this.#graphId = graphId
  }

  forget(): void {
    for (const map of [this.#pages, this.#sites, this.#anchors]) map.clear()
  }

  page(url: string): number {
    return this.#need(this.#pages, url)
  }
  /** The site of an address: its registrable domain, or its host where there is none. */
  site(url: string): number {
    return this.#need(this.#sites, this.domain(url))
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
      known = getDomain(host) ?? host.replace(/:\d+$/, '')
      if (this.#domains.size > 500_000) this.#domains.clear()
      this.#domains.set(host, known)
    }
    return known
  }

  /** Learns these names, writing those that are new. */
  async learn(db: pg.PoolClient, urls: Iterable<string>, texts: Iterable<string> = []): Promise<void> {
    if (this.#pages.size > mostRemembered) this.#pages.clear()
    if (this.#anchors.size > mostRemembered) this.#anchors.clear()
    const unknown = new Set<string>()
    const domains = new Set<string>()
    for (const url of urls) {
      if (!this.#pages.has(url)) unknown.add(url)
      const domain = this.domain(url)
      if (!this.#sites.has(domain)) domains.add(domain)
    }
    await this.#learn(db, sites, this.#sites, [...domains])
    await this.#learn(db, pages, this.#pages, [...unknown])
    await this.#learn(
      db,
      anchors,
      this.#anchors,
      [...new Set(texts)].filter(text => !this.#anchors.has(text)),
    )
  }

  async #learn(db: pg.PoolClient, spec: Table, known: Map<string, number>, names: string[]): Promise<void> {
    if (!names.length) return
    const { table, sequence, keyColumn, textColumn } = spec
    const hashed = keyColumn !== textColumn
    const keys = hashed ? names.map(textKey) : names
    const { rows } = await db.query<{ key: string; id: number }>(
      `select ${keyColumn}::text "key", id from ${table} where graph_id = $1 and ${keyColumn} = any($2::${hashed ? 'uuid' : 'text'}[])`,
      [this.#graphId, keys],
    )
    const idOf = new Map(rows.map(row => [row.key, row.id]))
    const missing: number[] = []
    names.forEach((name, i) => {
      const id = idOf.get(keys[i]!)
      if (id === undefined) missing.push(i)
      else known.set(name, id)
    })
    if (!missing.length) return
    const { rows: ids } = await db.query<{ id: number }>(
      `select nextval('${sequence}')::integer id from generate_series(1, $1)`,
      [missing.length],
    )
    const lines: string[] = []
    missing.forEach((i, at) => {
      const name = names[i]!
      const { id } = ids[at]!
      known.set(name, id)
      const fields: Array<string | number> = [this.#graphId, id]
      if (spec === pages) fields.push(this.site(name), keys[i]!, name)
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
