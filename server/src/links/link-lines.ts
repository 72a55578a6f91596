import { linkKinds, linkRegions, type LinkKind, seenByBits, type SeenBy } from '@dew-trail/core/links/link-codes'
import type { Region } from '@dew-trail/core/links/page-region'
import { daySince2000, RowWriter } from '../db/copy-rows.ts'
import type { AddressBook } from './address-book.ts'
import type { SummedLink } from './site-sums.ts'

/** A link as a source tells it; `null` = the source does not say. Days are ISO dates. */
export type FoundLink = {
  source: string
  target: string
  anchor: string
  /** Code of `core/links/link-codes`. */
  rel: number
  kind: LinkKind
  region: Region | null
  density: number | null
  around: string | null
  firstSeen: string | null
  lastSeen: string | null
  goneOn: string | null
}

/** What a link has besides its ends and its anchor: what sums need, and all fields as COPY takes them. Days since 2000, `null` = not known. */
export type LinkRest = { rel: number; first: number | null; last: number | null; fields: Buffer }

export function restOf(
  { rel, kind, region, density, firstSeen, lastSeen, goneOn, around }: Omit<FoundLink, 'source' | 'target' | 'anchor'>,
  seenBy: SeenBy,
): LinkRest {
  const [first, last] = [daySince2000(firstSeen), daySince2000(lastSeen)]
  const out = new RowWriter(256)
  out.smallint(rel)
  out.smallint(linkKinds.indexOf(kind))
  out.smallint(region === null ? null : linkRegions.indexOf(region))
  out.smallint(seenByBits[seenBy])
  out.real(density)
  out.integer(first)
  out.integer(last)
  out.integer(daySince2000(goneOn))
  out.text(around)
  return { rel, first, last, fields: out.take() }
}

/** Links kept as places in an address book until it has learnt them; then as rows for `mergeLinks` and `addLinks`. */
export class LinkLines {
  readonly #graphId: number
  readonly #book: AddressBook
  readonly #targets: number[] = []
  readonly #sources: number[] = []
  readonly #anchors: number[] = []
  /** A list has few different rests, each thousands of times: whoever adds links shares them. */
  readonly #rests: LinkRest[] = []

  constructor(graphId: number, book: AddressBook) {
    this.#graphId = graphId
    this.#book = book
  }

  get count(): number {
    return this.#rests.length
  }

  /** Adds a link by the places of its ends and its anchor. */
  addPlaced(target: number, source: number, anchor: number, rest: LinkRest): void {
    this.#targets.push(target)
    this.#sources.push(source)
    this.#anchors.push(anchor)
    this.#rests.push(rest)
  }

  /** Links by number, in the order in which their key's index takes them fastest. */
  inOrder(numbers: readonly number[]): Float64Array {
    const order = new Float64Array(numbers.length)
    for (let k = 0; k < order.length; k++)
      order[k] = this.#book.pageId(this.#targets[numbers[k]!]!) * 2 ** 21 + numbers[k]!
    order.sort()
    for (let k = 0; k < order.length; k++) order[k] = order[k]! % 2 ** 21
    return order
  }

  /** Ids of the linked sites among some links. */
  targetSites(numbers: Float64Array): Set<number> {
    const sites = new Set<number>()
    let before = 0
    for (const i of numbers) {
      const site = this.#book.siteId(this.#targets[i]!)
      if (site !== before) sites.add(site)
      before = site
    }
    return sites
  }

  /** Whether a link has an end or an anchor that the book made, with ids from these on. */
  isNew(i: number, from: { page: number; anchor: number }): boolean {
    const book = this.#book
    return (
      book.pageId(this.#sources[i]!) >= from.page ||
      book.pageId(this.#targets[i]!) >= from.page ||
      book.anchorId(this.#anchors[i]!) >= from.anchor
    )
  }

  /** Writes the row of a link. Call when the book has learnt. */
  readonly write = (out: RowWriter, i: number): void => {
    const book = this.#book
    out.row(15)
    out.integer(this.#graphId)
    const target = this.#targets[i]!
    out.integer(book.siteId(target))
    out.integer(book.pageId(target))
    const source = this.#sources[i]!
    out.integer(book.siteId(source))
    out.integer(book.pageId(source))
    out.integer(book.anchorId(this.#anchors[i]!))
    out.written(this.#rests[i]!.fields)
  }

  /** A link as sums need it. Call when the book has learnt. */
  summed(i: number): SummedLink {
    const book = this.#book
    const { rel, first, last } = this.#rests[i]!
    return {
      targetSite: book.siteId(this.#targets[i]!),
      sourceSite: book.siteId(this.#sources[i]!),
      sourcePage: book.pageId(this.#sources[i]!),
      rel,
      first,
      last,
    }
  }

  /** Numbers of all links. */
  all(): Iterable<number> {
    return this.#rests.keys()
  }
}
