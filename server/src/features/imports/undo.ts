import type { UndoWork } from '../../domain/acts/do-act.ts'
import { takeBack } from '../../domain/imports/queries.ts'

export const undoTakeBack: UndoWork = async (db, siteId, { importId, on }: { importId: number; on: boolean }) => {
  await takeBack(db, siteId, importId, !on)
  return ['keywords']
}
