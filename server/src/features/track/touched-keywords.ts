import type { Note } from '@dew-trail/contract/notes'
import { pageIdentity } from '@dew-trail/core/web/page-identity'
import { manyPagesOn } from '../../domain/positions/found-queries.ts'
import type { Db } from '../../platform/db/pool.ts'

/** Keywords that a note touches, by id; `null`: all of the site (or of the market it names). */
export type Touched = ReadonlySet<number> | null

/**
 * What a note touches: the keywords it names, those of its label, those planned for its page, and those for which its page, or its
 * address, was found in the market on the note's day. `slots`: the tracked keywords by slot.
 */
export async function touchedKeywords(
  db: Db,
  siteId: number,
  marketId: number,
  { day, touches }: Pick<Note, 'day' | 'touches'>,
  slots: ReadonlyMap<number, number>,
): Promise<Touched> {
  const { keywordId, keywordIds = [], pageId, listId, address } = touches
  if (keywordId === undefined && !keywordIds.length && pageId === undefined && listId === undefined && !address)
    return null
  const touched = new Set<number>(keywordIds)
  if (keywordId !== undefined) touched.add(keywordId)
  const { rows } = await db.query<{ id: number }>(
    `select keyword_id id from page_plan_keyword where site_id = $1 and page_id = $2
     union select keyword_id from list_keyword where site_id = $1 and list_id = $3`,
    [siteId, pageId ?? null, listId ?? null],
  )
  for (const row of rows) touched.add(row.id)
  const planned = await db.query<{ address: string | null; domain: string }>(
    `select p.address, s.domain from page_plan p join site s on s.id = p.site_id where p.site_id = $1 and p.id = $2`,
    [siteId, pageId ?? null],
  )
  const pages = new Set<string>()
  const add = (url: string): void => {
    const identity = pageIdentity(url)
    if (identity) pages.add(identity)
  }
  if (address) add(address)
  for (const row of planned.rows) if (row.address) add(new URL(row.address, `https://${row.domain}`).href)
  if (pages.size)
    for (const { slot, url } of await manyPagesOn(db, siteId, marketId, day)) {
      const id = slots.get(slot)
      if (url !== null && id !== undefined && pages.has(pageIdentity(url) ?? url)) touched.add(id)
    }
  return touched
}
