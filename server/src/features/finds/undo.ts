import { AppError } from '@dew-trail/contract/errors'
import type { FindKind, FindList } from '@dew-trail/contract/finds'
import type pg from 'pg'
import type { UndoWork } from '../../domain/acts/do-act.ts'
import {
  deleteFindList,
  deleteFinds,
  type FindRow,
  insertFinds,
  manyFindRows,
  maybeFindList,
  restoreFindList,
  updateFindListName,
  updateRemark,
} from './queries.ts'
import { tidyItem } from './routes.ts'

async function needList(db: pg.PoolClient, siteId: number, findListId: number): Promise<FindList> {
  const list = await maybeFindList(db, siteId, findListId)
  if (!list) throw new AppError('conflict', 'The list is no longer there, so this cannot be undone')
  return list
}
const withDomain = (kind: FindKind, rows: readonly FindRow[]) => rows.map(row => ({ ...row, ...tidyItem(kind, row) }))

export const undoPutOnFindList: UndoWork = async (
  db,
  siteId,
  { findListId, itemIds, made }: { findListId: number; itemIds: number[]; made: boolean },
) => {
  await needList(db, siteId, findListId)
  await deleteFinds(db, siteId, findListId, itemIds)
  if (made && !(await manyFindRows(db, siteId, findListId)).length) await deleteFindList(db, siteId, findListId)
  return ['finds']
}
export const undoTakeOffFindList: UndoWork = async (
  db,
  siteId,
  { findListId, rows }: { findListId: number; rows: FindRow[] },
) => {
  const { kind } = await needList(db, siteId, findListId)
  await insertFinds(db, siteId, findListId, withDomain(kind, rows))
  return ['finds']
}
export const undoRemoveFindList: UndoWork = async (db, siteId, { list, rows }: { list: FindList; rows: FindRow[] }) => {
  await insertFinds(db, siteId, await restoreFindList(db, siteId, list), withDomain(list.kind, rows))
  return ['finds']
}
export const undoRenameFindList: UndoWork = async (
  db,
  siteId,
  { findListId, from, to }: { findListId: number; from: string; to: string },
) => {
  const list = await needList(db, siteId, findListId)
  if (list.name !== to || !(await updateFindListName(db, siteId, findListId, from)))
    throw new AppError('conflict', 'The list was renamed again, or another one has its old name. Nothing was changed.')
  return ['finds']
}
export const undoRemarkFind: UndoWork = async (
  db,
  siteId,
  { findListId, itemId, before }: { findListId: number; itemId: number; before: string },
) => {
  if ((await updateRemark(db, siteId, findListId, itemId, before)) === undefined)
    throw new AppError('conflict', 'This is no longer on the list, so this cannot be undone')
  return ['finds']
}
