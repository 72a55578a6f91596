import type { Feature } from '../../feature.ts'
import { mountPlan } from './routes.ts'
import { planPagesTable } from './table.ts'
import { undoAddPage, undoAssign, undoChangePage, undoRemovePage } from './undo.ts'

export const planFeature: Feature = {
  mount: mountPlan,
  tables: { plan: planPagesTable },
  undo: { addPage: undoAddPage, changePage: undoChangePage, removePage: undoRemovePage, assign: undoAssign },
}
