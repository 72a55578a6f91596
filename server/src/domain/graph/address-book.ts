import { registrableDomain } from '@dew-trail/core/links/registrable-domain'
import type pg from 'pg'
import { CellCodes } from '../../platform/files/cell-codes.ts'
import { domainOf, pageKey } from '../pages/page-key.ts'
import { GrowingInts } from './growing-ints.ts'
import { findOrMake, noId, type NameTable } from './find-or-make.ts'
import { Names } from './names.ts'
import { PageNames } from './page-names.ts'

const slash = 47

/** What pages are looked up by, however their addresses are written (`pagesOf`): sites, keys (null = no page has it) and the addresses. */
export const addressKeys = (
  urls: readonly string[],
): [domains: string[], keys: Array<string | null>, addresses: string[]] => [
  urls.map(domainOf),
  urls.map(pageKey),
  [...urls],
]

/** Anchors are cut to this many characters: longer ones are whole paragraphs inside a link. */
const longestAnchor = 500

/** The least ids that a `learn` gave anew: what has one of them or a higher one was in no link before. */
type NewIds = { page: number; anchor: number }

/**
 * Integer ids of pages, sites and anchors of one graph. Each is looked up by its text once and has a place in the book from then on;
 * `learn` finds or makes the ids. Addresses have places as they are written, and those of one page have its id. New ones are written by
 * COPY, which is safe because writers of a graph hold its lock (`lockGraph`). After a rollback `forget` must be called: what it remembers
 * may not be there.
 */
export class AddressBook {
  readonly #graphId: number
  readonly #pages = new PageNames()
  /** Places of the sites of addresses, by the place of the address. */
  readonly #addressSites = new GrowingInts()
  /** Ids of addresses that are not those that their pages bear, by place; 0 for all others. */
  readonly #otherWays = new Map<number, number>()
  readonly #sites = new Names()
  readonly #anchors = new Names()
  /** Hosts of addresses, and the places of their sites. */
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
    this.#addressSites.clear()
    this.#otherWays.clear()
    this.#sites.clear()
    this.#hosts.clear()
    this.#hostSites = []
    this.#anchors.clear()
    this.#firstSite = noId
  }
  get isFull(): boolean {
    return this.#pages.names.isFull || this.#anchors.isFull
  }
  /** Begins anew when too much is remembered: places that were given before are void then. */
  forgetIfFull(): void {
    if (this.isFull) this.forget()
  }

  /** Place of an address as `pageAddress` writes it, to be learnt when it is new. */
  pageAt(url: string): number {
    const place = this.#pages.at(url)
    this.#placeSites()
    return place
  }
  /** Place of an address given as its UTF-8, -1 when it has none. */
  findPage(bytes: Buffer, from: number, to: number): number {
    return this.#pages.find(bytes, from, to)
  }
  /** One place for all addresses of a page. */
  samePage(position: number): number {
    return this.#pages.page(position)
  }
  anchorAt(text: string): number {
    return this.#anchors.at(text.slice(0, longestAnchor))
  }
  pageId(position: number): number {
    return this.#pages.names.id(this.#pages.page(position))
  }
  /** Id of an address (`linked_page_address`) that is not the one that its page bears, else 0. */
  addressId(position: number): number {
    return this.#otherWays.get(position) ?? 0
  }
  siteId(position: number): number {
    return this.#sites.id(this.#addressSites.get(position))
  }
  anchorId(position: number): number {
    return this.#anchors.id(position)
  }

  page(url: string): number {
    const id = this.pageId(this.pageAt(url))
    if (!id) throw new Error(`"${url}" was not learnt before it was used`)
    return id
  }
  /** The site of an address. */
  site(url: string): number {
    return this.#sites.need(domainOf(url))
  }

  /** Places the sites of all addresses that came in. */
  #placeSites(): void {
    while (this.#addressSites.count < this.#pages.names.size)
      this.#addressSites.push(this.#siteAt(this.#addressSites.count))
  }

  /** Place of the site of an address. */
  #siteAt(address: number): number {
    const { names } = this.#pages
    const { contents } = names
    const end = names.start(address + 1)
    const from = contents.indexOf('//', names.start(address)) + 2
    let to = from
    while (to < end && contents[to] !== slash) to++
    const code = this.#hosts.at(contents, from, to)
    return (this.#hostSites[code] ??= this.#sites.at(registrableDomain(contents.toString('utf8', from, to))))
  }

  /** Finds or makes the ids of these addresses and of all else that has a place by now. One `learn` at a time. */
  async learn(db: pg.PoolClient, urls: Iterable<string> = []): Promise<NewIds> {
    for (const url of urls) this.pageAt(url)
    // More may be met while these are learnt.
    const { pages: newPages, addresses } = this.#pages.take()
    const [newSites, newAnchors] = [this.#sites.take(), this.#anchors.take()]
    const site = await findOrMake(db, this.#graphId, sites, newSites.length, {
      key: i => this.#sites.bytes(newSites[i]!),
    })
    this.#sites.giveIds(newSites, site.ids)
    const page = await this.#learnPages(db, newPages, site.first)
    await this.#learnAddresses(db, addresses)
    const anchor = await findOrMake(db, this.#graphId, anchors, newAnchors.length, {
      key: i => this.#anchors.bytes(newAnchors[i]!),
    })
    this.#anchors.giveIds(newAnchors, anchor.ids)
    return { page: page.first, anchor: anchor.first }
  }

  async #learnPages(db: pg.PoolClient, places: readonly number[], firstNewSite: number): Promise<{ first: number }> {
    // Pages of a site that is new are new. So are those of sites that were made since somebody else last made pages.
    const { rows } = await db.query<{ last: number }>('select last_value::integer last from linked_page_id')
    if (rows[0]!.last !== this.#lastPage) this.#firstSite = noId
    this.#firstSite = Math.min(this.#firstSite, firstNewSite)
    const found = await findOrMake(db, this.#graphId, pages, places.length, {
      key: i => this.#pages.identity(places[i]!),
      text: i => this.#pages.names.bytes(this.#pages.own(places[i]!)),
      of: Int32Array.from(places, place => this.siteId(place)),
      newFrom: this.#firstSite,
      known: (i, address) => this.#pages.setOwn(places[i]!, address),
    })
    this.#placeSites()
    this.#pages.names.giveIds(places, found.ids)
    this.#lastPage = found.last ?? rows[0]!.last
    return found
  }

  async #learnAddresses(db: pg.PoolClient, met: readonly number[]): Promise<void> {
    const places = met.filter(place => this.#pages.own(this.#pages.page(place)) !== place)
    const { ids } = await findOrMake(db, this.#graphId, addressesOfPages, places.length, {
      key: i => this.#pages.names.bytes(places[i]!),
      of: Int32Array.from(places, place => this.pageId(place)),
    })
    for (const [i, place] of places.entries()) this.#otherWays.set(place, ids[i]!)
  }
}

const pages: NameTable = {
  table: 'linked_page',
  sequence: 'linked_page_id',
  columns: 'site_id, url_key, url',
  key: 'url_key',
  hashed: true,
  of: 'site_id',
}
const addressesOfPages: NameTable = {
  table: 'linked_page_address',
  sequence: 'linked_page_address_id',
  columns: 'page_id, url_key, url',
  key: 'url_key',
  hashed: true,
  of: 'page_id',
}
const anchors: NameTable = {
  table: 'anchor_text',
  sequence: 'anchor_text_id',
  columns: 'text_key, text',
  key: 'text_key',
  hashed: true,
}
const sites: NameTable = {
  table: 'linked_site',
  sequence: 'linked_site_id',
  columns: 'domain',
  key: 'domain',
  hashed: false,
}
