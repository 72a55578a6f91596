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

/** Anchors are cut to this many characters: longer ones are whole paragraphs inside a link. */
const longestAnchor = 500

/** Adds links of one source to a graph, merging those that are known. The caller holds the graph's lock. */
export async function saveLinks(
  db: pg.PoolClient,
  graphId: number,
  book: AddressBook,
  seenBy: SeenBy,
  links: readonly FoundLink[],
): Promise<void> {
  if (!links.length) return
  const lines = new LinkLines(graphId, book, seenBy)
  for (const link of links) lines.add(link)
  await book.learn(db)
  await mergeLinks(db, graphId, lines.text())
}

const mostRests = 10_000

/** Links of one source, kept as places in an address book until it has learnt them; then as COPY text for `mergeLinks` and `addLinks`. */
export class LinkLines {
  readonly #head: string
  readonly #book: AddressBook
  readonly #bit: number
  readonly #targets: number[] = []
  readonly #sources: number[] = []
  readonly #anchors: number[] = []
  readonly #rests: string[] = []
  readonly #knownRests = new Map<string, string>()

  constructor(graphId: number, book: AddressBook, seenBy: SeenBy) {
    this.#head = `${graphId}\t`
    this.#book = book
    this.#bit = seenByBits[seenBy]
  }

  get count(): number {
    return this.#rests.length
  }

  /** Gives what tells the link from others: the places of its ends and its anchor. */
  add(link: FoundLink): [target: number, source: number, anchor: number] {
    const target = this.#book.pageAt(link.target)
    const source = this.#book.pageAt(link.source)
    const anchor = this.#book.anchorAt(link.anchor.slice(0, longestAnchor))
    this.#targets.push(target)
    this.#sources.push(source)
    this.#anchors.push(anchor)
    this.#rests.push(this.#restOf(link))
    return [target, source, anchor]
  }

  /** The fields behind the ids. A list has few different ones, each thousands of times: they are one text in memory. */
  #restOf({ rel, kind, region, density, firstSeen, lastSeen, goneOn, around }: FoundLink): string {
    const rest = `\t${rel}\t${linkKinds.indexOf(kind)}\t${region === null ? '\\N' : linkRegions.indexOf(region)}\t${this.#bit}\t${density ?? '\\N'}\t${firstSeen ?? '\\N'}\t${lastSeen ?? '\\N'}\t${goneOn ?? '\\N'}\t${copyField(around)}\n`
    const known = this.#knownRests.get(rest)
    if (known === undefined && this.#knownRests.size < mostRests) this.#knownRests.set(rest, rest)
    return known ?? rest
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
    for (let at = 0; at < numbers.length; at += 2_000) {
      let piece = ''
      for (let k = at; k < Math.min(numbers.length, at + 2_000); k++) {
        const i = numbers[k] ?? k
        piece += `${this.#head}${book.fieldsAt(this.#targets[i]!)}\t${book.fieldsAt(this.#sources[i]!)}\t${book.anchorId(this.#anchors[i]!)}${this.#rests[i]}`
      }
      yield Buffer.from(piece)
    }
  }
}
