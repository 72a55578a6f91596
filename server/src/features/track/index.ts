import type { Feature } from '../../feature.ts'
import { mountAlerts } from './alerts/alert-routes.ts'
import { mailAlerts, mailKind } from './alerts/mail-alerts.ts'
import { undoAddRule, undoChangeRule, undoRemoveRule } from './alerts/undo-rules.ts'
import { takeBackPositions } from './take-back-positions.ts'
import { importPositionsJob } from './import-positions-job.ts'
import { askAgainForFailed, dropOldRuns } from './check-runs.ts'
import { checkJob } from './job.ts'
import { keptVoicesJob } from './kept-voices-job.ts'
import { positionsTable } from './table.ts'
import { undoStartTracking } from './start-tracking.ts'
import { undoTrack } from './undo.ts'
import { foldNightly } from '../../domain/positions/fold-years.ts'
import { mountTrack } from './routes.ts'
import { scheduledCheck } from './scheduled-check.ts'
import { trackFigures, trackSections } from './report-sections.ts'

export const trackFeature: Feature = {
  mount(app, context) {
    mountTrack(app, context)
    mountAlerts(app, context)
  },
  jobs: { check: checkJob, voices: keptVoicesJob },
  tables: { positions: positionsTable },
  undo: {
    track: undoTrack,
    startTracking: undoStartTracking,
    addAlertRule: undoAddRule,
    changeAlertRule: undoChangeRule,
    removeAlertRule: undoRemoveRule,
  },
  importers: { positions: importPositionsJob },
  takeBacks: { positions: takeBackPositions },
  schedules: { check: scheduledCheck, [mailKind]: mailAlerts },
  minutely: { 'failed checks': async context => void (await askAgainForFailed(context)) },
  nightly: { 'check runs': dropOldRuns, 'years of positions': ({ pool }) => foldNightly(pool) },
  sections: trackSections,
  figures: trackFigures,
}
