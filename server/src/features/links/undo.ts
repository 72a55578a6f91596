import type { UndoWork } from '../../domain/acts/do-act.ts'
import { deleteVetted, upsertVetted, type VettedSite } from '../../domain/graph/vetted-queries.ts'

const graphId = 1

export const undoVet: UndoWork = async (db, _siteId, data: { domain: string; before: VettedSite | null }) => {
  if (data.before) await upsertVetted(db, graphId, data.before)
  else await deleteVetted(db, graphId, data.domain)
  return ['vetted']
}
