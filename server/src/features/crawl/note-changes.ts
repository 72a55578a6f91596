import { textChange } from '@dew-trail/core/text/text-change'
import type pg from 'pg'
import type { PageOutcome } from '../../domain/pages/crawler.ts'
import { addressKeys } from '../../domain/graph/address-book.ts'
import { pagesOf } from '../../domain/graph/content-queries.ts'
import { insertNote } from '../../domain/notes/queries.ts'
import type { Db } from '../../platform/db/pool.ts'

/** A text of which so much is another than at the last crawl was changed. */
const leastChange = 0.3
/** A new design changes every page: beyond so many a crawl they are counted in one note. */
export const mostNoted = 20

export type KnownContent = { url: string; title: string | null; text: string | null }
/** What is known of pages of a site from an earlier crawl; pages that were never read are left out. */
export async function manyContents(db: Db, graphId: number, urls: readonly string[]): Promise<KnownContent[]> {
  const { rows } = await db.query<KnownContent>(
    `select u.address url, c.title, c.text from ${pagesOf}
     join page_content c on c.graph_id = $1 and c.page_id = p.id and c.status = 200`,
    [graphId, ...addressKeys(urls)],
  )
  return rows
}

export type PageChange = { url: string; text: string }
/** Pages whose title or text is another than before, with what to note; those that could not be read, or were not before, are left out. */
export function changedPages(known: readonly KnownContent[], outcomes: readonly PageOutcome[]): PageChange[] {
  const before = new Map(known.map(each => [each.url, each]))
  return outcomes.flatMap(({ url, facts, redirectTo }) => {
    const was = before.get(url)
    if (!was || !facts || redirectTo) return []
    const [title, then] = [facts.title?.trim() ?? '', was.title?.trim() ?? '']
    const share = was.text && facts.text ? textChange(was.text, facts.text) : 0
    const what = [
      ...(title !== then && title && then ? [`Title changed to "${shortened(title)}" from "${shortened(then)}"`] : []),
      ...(share >= leastChange ? [`${Math.round(share * 100)}% of the text changed`] : []),
    ]
    return what.length ? [{ url, text: what.join('; ') }] : []
  })
}

const shortened = (text: string): string => (text.length > 90 ? `${text.slice(0, 90)}…` : text)

/** Notes changed pages of the own site on the day they were seen, each by its address. Call with what was noted of this crawl before. */
export async function noteChanges(
  db: pg.PoolClient,
  siteId: number,
  day: string,
  changes: readonly PageChange[],
  noted: number,
): Promise<void> {
  for (const { url, text } of changes.slice(0, Math.max(0, mostNoted - noted)))
    await insertNote(db, siteId, { day, text, touches: { address: url } })
}
