import { AppError } from '@dew-trail/contract/errors'
import type { UndoWork } from '../../domain/acts/do-act.ts'
import { changedByPlan, putBack, setPageRemoved } from '../../domain/plans/place-keywords.ts'
import { changePageRow } from './change-plan.ts'
import type { Assignment, PageRow } from '../../domain/plans/queries.ts'

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
