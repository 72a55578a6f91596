import { linkKinds, linkRegions, type LinkKind } from '@dew-trail/core/links/link-codes'
import type { Region } from '@dew-trail/core/links/page-region'
import { daySince2000, RowWriter } from '../../platform/db/copy-rows.ts'
import type { AddressBook } from './address-book.ts'
import { GrowingInts } from './growing-ints.ts'
import type { SiteSums } from './site-sums.ts'

/** A link as a source tells it; `null` = the source does not say. Days are ISO dates. */
export type FoundLink = {
  source: string
  target: string
  anchor: string
  /** Code of `core/links/link-codes`. */
  rel: number
  kind: LinkKind
  region: Region | null
  linkedAround: number | null
  around: string | null
  firstSeen: string | null
  lastSeen: string | null
  goneOn: string | null
}

/** What a link has besides its ends and its anchor: what sums need, and all fields as COPY takes them. Days since 2000, `null` = not known. */
export type LinkRest = { rel: number; first: number | null; last: number | null; fields: Buffer }

export function restOf(
  {
    rel,
    kind,
    region,
    linkedAround,
    firstSeen,
    lastSeen,
    goneOn,
    around,
  }: Omit<FoundLink, 'source' | 'target' | 'anchor'>,
  seenBy: number,
): LinkRest {
  const [first, last] = [daySince2000(firstSeen), daySince2000(lastSeen)]
  const out = new RowWriter(256)
  out.smallint(rel)
  out.smallint(linkKinds.indexOf(kind))
  out.smallint(region === null ? null : linkRegions.indexOf(region))
  out.smallint(seenBy)
  out.real(linkedAround)
  out.integer(first)
  out.integer(last)
  out.integer(daySince2000(goneOn))
  out.text(around)
  return { rel, first, last, fields: out.take() }
}

/** Ids of a link in the order of its row: linked site and page, linking site and page, anchor. */
const idsOfLink = 5

/** Links kept as places in an address book until it has learnt them; then as rows for `mergeLinks` and `addLinks`. */
export class LinkLines {
  readonly #graphId: number
  readonly #book: AddressBook
  /** Target, source and anchor of each link. */
  readonly #positions = new GrowingInts()
  /** A list has few different rests, each thousands of times: whoever adds links shares them. */
  readonly #rests: LinkRest[] = []
  /** Ids of each link, side by side since the book is far larger than what is quick to reach. */
  #ids = new Int32Array()
  /** Ids of the addresses of each link's ends, linked and linking, where they are not those that their pages bear; else 0. */
  #addresses = new Int32Array()

  /** The reading of a file that brings the links; null for those of crawls and feeds. */
  readonly #load: number | null

  constructor(graphId: number, book: AddressBook, load: number | null = null) {
    this.#graphId = graphId
    this.#book = book
    this.#load = load
  }

  get count(): number {
    return this.#rests.length
  }

  /** Adds a link by the places of its ends and its anchor. */
  addPlaced(target: number, source: number, anchor: number, rest: LinkRest): void {
    this.#positions.push(target)
    this.#positions.push(source)
    this.#positions.push(anchor)
    this.#rests.push(rest)
  }

  /** Looks up all ids, when the book has learnt. All below needs them. */
  lookUp(): void {
    const book = this.#book
    const positions = this.#positions.view()
    this.#ids = new Int32Array(this.count * idsOfLink)
    this.#addresses = new Int32Array(this.count * 2)
    let next = 0
    for (let at = 0, from = 0; from < positions.length; from += 3) {
      const [target, source] = [positions[from]!, positions[from + 1]!]
      this.#ids[at++] = book.siteId(target)
      this.#ids[at++] = book.pageId(target)
      this.#ids[at++] = book.siteId(source)
      this.#ids[at++] = book.pageId(source)
      this.#ids[at++] = book.anchorId(positions[from + 2]!)
      this.#addresses[next++] = book.addressId(target)
      this.#addresses[next++] = book.addressId(source)
    }
  }

  /** Links by number, in the order in which their key's index takes them fastest. */
  inOrder(numbers: readonly number[]): Float64Array {
    const order = new Float64Array(numbers.length)
    for (let k = 0; k < order.length; k++) {
      const i = numbers[k]!
      order[k] = this.#ids[i * idsOfLink + 1]! * 2 ** 21 + i
    }
    order.sort()
    for (let k = 0; k < order.length; k++) order[k] = order[k]! % 2 ** 21
    return order
  }

  /** Ids of the linked sites among some links. */
  targetSites(numbers: Float64Array): Set<number> {
    const sites = new Set<number>()
    let before = 0
    for (const i of numbers) {
      const site = this.#ids[i * idsOfLink]!
      if (site !== before) sites.add(site)
      before = site
    }
    return sites
  }

  /** Whether a link has an end or an anchor that the book made, with ids from these on. */
  isNew(i: number, from: { page: number; anchor: number }): boolean {
    const [ids, at] = [this.#ids, i * idsOfLink]
    return ids[at + 3]! >= from.page || ids[at + 1]! >= from.page || ids[at + 4]! >= from.anchor
  }

  /** Writes the row of a link. */
  readonly write = (out: RowWriter, i: number): void => {
    out.row(18)
    out.integer(this.#graphId)
    out.integers(this.#ids, i * idsOfLink, (i + 1) * idsOfLink)
    out.written(this.#rests[i]!.fields)
    out.integer(this.#load)
    out.integer(this.#addresses[i * 2]! || null)
    out.integer(this.#addresses[i * 2 + 1]! || null)
  }

  /** Counts a link in sums, or only takes in the days of one that was counted before. */
  sum(sums: SiteSums, i: number, counts: boolean): void {
    const [ids, at] = [this.#ids, i * idsOfLink]
    sums.add(ids[at]!, ids[at + 2]!, ids[at + 3]!, this.#rests[i]!, counts)
  }

  /** Numbers of all links. */
  all(): Iterable<number> {
    return this.#rests.keys()
  }
}
