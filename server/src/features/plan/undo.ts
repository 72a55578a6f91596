import { AppError } from '@dew-trail/contract/errors'
import type { UndoWork } from '../../domain/acts/do-act.ts'
import { changedByPlan, putBack, setPageRemoved, takeThemesOff } from '../../domain/plans/put-keywords.ts'
import { changePageRow } from './change-plan.ts'
import { type Assignment, type KeywordOrder, type PageRow, setKeywordOrders } from '../../domain/plans/queries.ts'
import type { BriefText } from '@dew-trail/contract/brief'
import { deleteNote } from '../../domain/notes/queries.ts'
import { saveBriefText } from './brief-queries.ts'
import { manyMapParents, setMapParent } from './map-queries.ts'

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
  {
    pageId,
    version,
    before,
    noteId,
  }: { pageId: number; version: number; before: Partial<PageRow>; noteId?: number | null },
) => {
  if ((await changePageRow(db, siteId, pageId, { ...before, version })) === undefined)
    throw new AppError('conflict', 'The page was changed or removed since. Nothing was undone.')
  // A note that somebody changed since is theirs.
  if (noteId) await deleteNote(db, siteId, noteId, 1)
  return noteId ? [...changedByPlan, 'notes'] : changedByPlan
}
export const undoOrderKeywords: UndoWork = async (db, siteId, data: { pageId: number; before: KeywordOrder[] }) => {
  await setKeywordOrders(db, siteId, data.pageId, data.before)
  return ['plan']
}
export const undoMovePage: UndoWork = async (
  db,
  siteId,
  { node, under, before }: { node: string; under: string | null; before: string | null },
) => {
  if (((await manyMapParents(db, siteId)).get(node) ?? null) !== under)
    throw new AppError('conflict', 'The page was moved again since. Nothing was undone.')
  await setMapParent(db, siteId, node, before)
  return ['plan']
}
export const undoBrief: UndoWork = async (
  db,
  siteId,
  { pageId, version, before }: { pageId: number; version: number; before: BriefText },
) => {
  if ((await saveBriefText(db, siteId, pageId, before, version)) === undefined)
    throw new AppError('conflict', 'The brief was changed since. Nothing was undone.')
  return ['plan']
}
export const undoAssignThemes: UndoWork = async (
  db,
  siteId,
  { assigned, made }: { assigned: Array<{ pageId: number; before: Assignment[] }>; made: number[] },
) => {
  await takeThemesOff(db, siteId, assigned, made)
  return ['plan', 'keywords', 'themes']
}
