import { AppError } from '@dew-trail/contract/errors'
import type { UndoWork } from '../../domain/acts/do-act.ts'
import { type GridChange, setRemoved, updateGrid } from './queries.ts'
import { needGrid } from './read-grids.ts'

export const undoCreatePlaceGrid: UndoWork = async (db, siteId, { gridId }: { gridId: number }) => {
  await setRemoved(db, 'place_grid', siteId, gridId, true)
  return ['places']
}
export const undoChangePlaceGrid: UndoWork = async (
  db,
  siteId,
  { gridId, before, version }: { gridId: number; before: GridChange; version: number },
) => {
  if ((await needGrid(db, siteId, gridId)).version !== version)
    throw new AppError('conflict', 'This grid was changed again since')
  await updateGrid(db, siteId, gridId, before)
  return ['places']
}
export const undoRemovePlace: UndoWork = async (
  db,
  siteId,
  { table, id }: { table: 'place_grid' | 'place_run'; id: number },
) => {
  await setRemoved(db, table, siteId, id, false)
  return ['places']
}
