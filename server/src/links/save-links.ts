import type pg from 'pg'
import { linkKinds, linkRegions, type LinkKind, seenByBits, type SeenBy } from '@dew-trail/core/links/link-codes'
import type { Region } from '@dew-trail/core/links/page-region'
import { copyField } from '../imports/copy-line.ts'
import type { AddressBook, NewIds } from './address-book.ts'
import { mergeLinks } from './queries.ts'

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

/** Adds links of one source to a graph, merging those that are known. The caller holds the graph's lock. */
export async function saveLinks(
  db: pg.PoolClient,
  graphId: number,
  book: AddressBook,
  seenBy: SeenBy,
  links: readonly FoundLink[],
): Promise<void> {
  if (!links.length) return
  const lines = new LinkLines(graphId, book)
  for (const link of links)
    lines.addPlaced(
      book.pageAt(link.target),
      book.pageAt(link.source),
      book.anchorAt(link.anchor),
      restOf(link, seenBy),
    )
  await book.learn(db)
  await mergeLinks(db, graphId, lines.text())
}

/** The fields of a link behind its anchor, as COPY takes them. */
export function restOf(
  { rel, kind, region, density, firstSeen, lastSeen, goneOn, around }: Omit<FoundLink, 'source' | 'target' | 'anchor'>,
  seenBy: SeenBy,
): string {
  return `\t${rel}\t${linkKinds.indexOf(kind)}\t${region === null ? '\\N' : linkRegions.indexOf(region)}\t${seenByBits[seenBy]}\t${density ?? '\\N'}\t${firstSeen ?? '\\N'}\t${lastSeen ?? '\\N'}\t${goneOn ?? '\\N'}\t${copyField(around)}\n`
}

/** Links kept as places in an address book until it has learnt them; then as COPY text for `mergeLinks` and `addLinks`. */
export class LinkLines {
  readonly #graphId: number
  readonly #book: AddressBook
  readonly #targets: number[] = []
  readonly #sources: number[] = []
  readonly #anchors: number[] = []
  /** A list has few different rests, each thousands of times: they are written out once. */
  readonly #rests: number[] = []
  readonly #restCodes = new Map<string, number>()
  readonly #restBytes: Buffer[] = []

  constructor(graphId: number, book: AddressBook) {
    this.#graphId = graphId
    this.#book = book
  }

  get count(): number {
    return this.#rests.length
  }

  /** Adds a link by the places of its ends and its anchor. */
  addPlaced(target: number, source: number, anchor: number, rest: string): void {
    let code = this.#restCodes.get(rest)
    if (code === undefined) {
      code = this.#restBytes.length
      this.#restCodes.set(rest, code)
      this.#restBytes.push(Buffer.from(rest))
    }
    this.#targets.push(target)
    this.#sources.push(source)
    this.#anchors.push(anchor)
    this.#rests.push(code)
  }

  /** Links by number, in the order in which their key's index takes them fastest, and the linked sites among them. */
  inOrder(numbers: Iterable<number>): { numbers: Float64Array; targetSiteIds: number[] } {
    const keys = Float64Array.from(numbers, i => this.#book.pageId(this.#targets[i]!) * 2 ** 21 + i).sort()
    const order = keys.map(key => key % 2 ** 21)
    const sites = new Set<number>()
    for (const i of order) sites.add(this.#book.siteId(this.#targets[i]!))
    return { numbers: order, targetSiteIds: [...sites] }
  }

  /** Whether a link has an end or an anchor that the book made, with ids from these on. */
  isNew(i: number, from: NewIds): boolean {
    const book = this.#book
    return (
      book.pageId(this.#sources[i]!) >= from.page ||
      book.pageId(this.#targets[i]!) >= from.page ||
      book.anchorId(this.#anchors[i]!) >= from.anchor
    )
  }

  /** All links, or those of these numbers, in pieces. Call when the book has learnt. */
  *text(numbers: ArrayLike<number> = { length: this.count }): Generator<Buffer> {
    const book = this.#book
    let out = Buffer.allocUnsafe(pieceBytes)
    let at = 0
    for (let k = 0; k < numbers.length; k++) {
      const i = numbers[k] ?? k
      const rest = this.#restBytes[this.#rests[i]!]!
      if (out.length - at < mostDigits + rest.length) {
        yield out.subarray(0, at)
        out = Buffer.allocUnsafe(Math.max(pieceBytes, mostDigits + rest.length))
        at = 0
      }
      at = putNumber(out, at, this.#graphId)
      for (const place of [this.#targets[i]!, this.#sources[i]!]) {
        out[at++] = tab
        at = putNumber(out, at, book.siteId(place))
        out[at++] = tab
        at = putNumber(out, at, book.pageId(place))
      }
      out[at++] = tab
      at = putNumber(out, at, book.anchorId(this.#anchors[i]!))
      for (let byte = 0; byte < rest.length; byte++) out[at++] = rest[byte]!
    }
    if (at) yield out.subarray(0, at)
  }
}

const tab = 9
const pieceBytes = 1 << 18
/** Of six whole numbers of 32 bits with their tabs. */
const mostDigits = 6 * 12

/** Writes a whole number from 0 on in digits and gives where the next bytes go. */
function putNumber(out: Buffer, from: number, number: number): number {
  let digits = 1
  for (let least = 10; number >= least; least *= 10) digits++
  const end = from + digits
  let rest = number
  for (let at = end - 1; at >= from; at--) {
    const tenth = Math.trunc(rest / 10)
    out[at] = 48 + rest - tenth * 10
    rest = tenth
  }
  return end
}
