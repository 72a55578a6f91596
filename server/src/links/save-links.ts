import type pg from 'pg'
import { linkKinds, linkRegions, type LinkKind, seenByBits, type SeenBy } from '@dew-trail/core/links/link-codes'
import type { Region } from '@dew-trail/core/links/page-region'
import { copyField } from '../imports/copy-line.ts'
import type { AddressBook } from './address-book.ts'
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
  await learnLinks(db, book, links)
  await mergeLinks(db, graphId, linkLines(book, seenBy, links))
}

const anchorOf = (link: FoundLink): string => link.anchor.slice(0, longestAnchor)

/** Has a book learn all addresses and anchors of links, writing the new ones. The caller holds the lock of the graph's addresses. */
export async function learnLinks(db: pg.PoolClient, book: AddressBook, links: readonly FoundLink[]): Promise<void> {
  const urls = new Set<string>()
  for (const link of links) urls.add(link.source).add(link.target)
  await book.learn(db, urls, new Set(links.map(anchorOf)))
}

/** Links that a book has learnt, as pieces of COPY text for `mergeLinks`. */
export function* linkLines(book: AddressBook, seenBy: SeenBy, links: readonly FoundLink[]): Generator<string> {
  const bit = seenByBits[seenBy]
  const line = (link: FoundLink): string =>
    `${book.fields(link.target)}\t${book.fields(link.source)}\t${book.anchor(anchorOf(link))}\t${link.rel}\t${linkKinds.indexOf(link.kind)}\t${link.region === null ? '\\N' : linkRegions.indexOf(link.region)}\t${bit}\t${link.density ?? '\\N'}\t${link.firstSeen ?? '\\N'}\t${link.lastSeen ?? '\\N'}\t${link.goneOn ?? '\\N'}\t${copyField(link.around)}\n`
  for (let at = 0; at < links.length; at += 2_000)
    yield links
      .slice(at, at + 2_000)
      .map(line)
      .join('')
}
