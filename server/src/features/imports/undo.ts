import type { UndoWork } from '../../domain/acts/do-act.ts'
import { setTakenBack, takeKeywordsBack } from '../../domain/imports/queries.ts'

export const undoTakeBack: UndoWork = async (db, siteId, { importId, on }: { importId: number; on: boolean }) => {
  await setTakenBack(db, siteId, importId, !on)
  await takeKeywordsBack(db, siteId, importId, !on)
  return ['keywords']
}
