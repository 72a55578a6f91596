import type { Feature } from '../../feature.ts'
import { issueBySchedule } from './issue-report.ts'
import { reportKind } from './rhythms.ts'
import { mountReports } from './routes.ts'
import { undoAddReport, undoChangeReport, undoRemoveReport } from './undo.ts'

export const reportsFeature: Feature = {
  mount: mountReports,
  schedules: { [reportKind]: issueBySchedule },
  undo: { addReport: undoAddReport, changeReport: undoChangeReport, removeReport: undoRemoveReport },
}
