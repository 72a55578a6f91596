import { AppError } from '@dew-trail/contract/errors'
import type pg from 'pg'
import type { UndoWork } from '../../domain/acts/do-act.ts'
import { changedByPlan, changePageRow, place, setPageRemoved } from './change-plan.ts'
import { type Assignment, manyAssignments, type PageRow } from './queries.ts'

/** Puts keywords back where they stood, those alone that are still where they were put. A page that is gone meanwhile takes none. */
async function putBack(db: pg.PoolClient, siteId: number, pageId: number | null, before: Assignment[]): Promise<void> {
  const now = await manyAssignments(
    db,
    siteId,
    before.map(each => each.keywordId),
  )
  const still = new Set(now.filter(each => each.pageId === pageId).map(each => each.keywordId))
  for (const back of new Set(before.map(each => each.pageId))) {
    const ids = before.filter(each => each.pageId === back && still.has(each.keywordId)).map(each => each.keywordId)
    if (ids.length) await place(db, siteId, back, ids)
  }
}

export const undoAssign: UndoWork = async (db, siteId, data: { pageId: number | null; before: Assignment[] }) => {
  await putBack(db, siteId, data.pageId, data.before)
  return changedByPlan
}
export const undoAddPage: UndoWork = async (db, siteId, data: { pageId: number; before: Assignment[] }) => {
  await putBack(db, siteId, data.pageId, data.before)
  await setPageRemoved(db, siteId, data.pageId, true)
  return changedByPlan
}
export const undoRemovePage: UndoWork = async (db, siteId, data: { pageId: number }) => {
  await setPageRemoved(db, siteId, data.pageId, false)
  return changedByPlan
}
export const undoChangePage: UndoWork = async (
  db,
  siteId,
  { pageId, version, before }: { pageId: number; version: number; before: Partial<PageRow> },
) => {
  if ((await changePageRow(db, siteId, pageId, { ...before, version })) === undefined)
    throw new AppError('conflict', 'The page was changed or removed since. Nothing was undone.')
  return changedByPlan
}
