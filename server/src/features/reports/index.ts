import type { Feature } from '../../feature.ts'
import { issueBySchedule, reportKind } from './issue-report.ts'
import { mountReports } from './routes.ts'
import { undoAddReport, undoChangeReport, undoRemoveReport } from './undo.ts'

export const reportsFeature: Feature = {
  mount: mountReports,
  schedules: { [reportKind]: issueBySchedule },
  undo: { addReport: undoAddReport, changeReport: undoChangeReport, removeReport: undoRemoveReport },
}
