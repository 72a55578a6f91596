import type { Feature } from '../../feature.ts'
import { mountPlan } from './routes.ts'
import { planPagesTable } from './table.ts'
import { readForBriefJob } from './change-brief.ts'
import {
  undoAddPage,
  undoAssign,
  undoAssignThemes,
  undoBrief,
  undoChangePage,
  undoMovePage,
  undoOrderKeywords,
  undoRemovePage,
} from './undo.ts'
import { planFigures, planSections } from './report-sections.ts'

export const planFeature: Feature = {
  mount: mountPlan,
  tables: { plan: planPagesTable },
  jobs: { readForBrief: readForBriefJob },
  undo: {
    addPage: undoAddPage,
    changePage: undoChangePage,
    removePage: undoRemovePage,
    assign: undoAssign,
    orderKeywords: undoOrderKeywords,
    movePage: undoMovePage,
    assignThemes: undoAssignThemes,
    saveBrief: undoBrief,
  },
  sections: planSections,
  figures: planFigures,
}
