import type { UndoWork } from '../../domain/acts/do-act.ts'
import { markPruned, setKept, touchFound } from '../../domain/keywords/queries.ts'

export const undoKeep: UndoWork = async (db, siteId, data: { keywordIds: number[]; kept: boolean }) => {
  await setKept(db, siteId, data.keywordIds, !data.kept)
  return ['keywords']
}
export const undoPrune: UndoWork = async (db, siteId, data: { gatheringIds: number[]; pruned: boolean }) => {
  await touchFound(db, siteId, await markPruned(db, siteId, data.gatheringIds, !data.pruned))
  return ['keywords', 'gatherings']
}
