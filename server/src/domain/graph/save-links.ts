import type pg from 'pg'
import type { AddressBook } from './address-book.ts'
import { type FoundLink, LinkLines, restOf } from './link-lines.ts'
import { mergeLinks } from './queries.ts'

/** Adds links of one source (a bit, `seenByBits` or that of a feed) to a graph, merging those that are known. The caller holds the graph's lock. */
export async function saveLinks(
  db: pg.PoolClient,
  graphId: number,
  book: AddressBook,
  seenBy: number,
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
  lines.lookUp()
  await mergeLinks(db, graphId, lines, lines.all())
}
