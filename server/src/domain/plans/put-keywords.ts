import type { KeywordSpot } from '@dew-trail/contract/plan'
import type pg from 'pg'
import { touchKeywords } from '../sites/queries.ts'
import { assign, type Assignment, manyAssignments, manyKeywordIdsOfPage, setRemoved, setSpot } from './queries.ts'

/** What may have become otherwise with a page or what stands on it. */
export const changedByPlan = ['plan', 'keywords'] as const

/**
 * Puts keywords on a page, or off all pages, and gives where each stood before. `spot`: where in the page they should stand, as far as
 * that is said.
 */
export async function putKeywords(
  db: pg.PoolClient,
  siteId: number,
  pageId: number | null,
  keywordIds: number[],
  spot?: KeywordSpot | null,
): Promise<Assignment[]> {
  const before = await manyAssignments(db, siteId, keywordIds)
  await assign(db, siteId, pageId, keywordIds)
  if (pageId !== null && spot !== undefined) await setSpot(db, siteId, pageId, keywordIds, spot)
  await touchKeywords(db, siteId, keywordIds)
  return before
}

/** Puts keywords back where they stood, those alone that are still where they were put. A page that is gone meanwhile takes none. */
export async function putBack(
  db: pg.PoolClient,
  siteId: number,
  pageId: number | null,
  before: Assignment[],
): Promise<void> {
  const now = await manyAssignments(
    db,
    siteId,
    before.map(each => each.keywordId),
  )
  const still = new Set(now.filter(each => each.pageId === pageId).map(each => each.keywordId))
  for (const back of new Set(before.map(each => each.pageId))) {
    const ids = before.filter(each => each.pageId === back && still.has(each.keywordId)).map(each => each.keywordId)
    if (ids.length) await putKeywords(db, siteId, back, ids)
  }
}

/** Takes a page off the plan or puts it back; the rows of its keywords show it. */
export async function setPageRemoved(
  db: pg.PoolClient,
  siteId: number,
  pageId: number,
  removed: boolean,
): Promise<void> {
  await setRemoved(db, siteId, pageId, removed)
  await touchKeywords(db, siteId, await manyKeywordIdsOfPage(db, siteId, pageId))
}

/** Takes back that themes were put on pages: keywords go where they were, and pages that were made for them go. */
export async function takeThemesOff(
  db: pg.PoolClient,
  siteId: number,
  assigned: ReadonlyArray<{ pageId: number; before: Assignment[] }>,
  made: readonly number[],
): Promise<void> {
  for (const { pageId, before } of assigned.toReversed()) await putBack(db, siteId, pageId, before)
  for (const pageId of made) await setPageRemoved(db, siteId, pageId, true)
}
