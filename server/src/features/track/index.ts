import type { Feature } from '../../feature.ts'
import { importPositionsJob } from './import-positions-job.ts'
import { checkJob } from './job.ts'
import { positionsTable } from './table.ts'
import { undoTrack } from './undo.ts'
import { mountTrack } from './routes.ts'
import { scheduledCheck } from './scheduled-check.ts'

export const trackFeature: Feature = {
  mount: mountTrack,
  jobs: { check: checkJob },
  tables: { positions: positionsTable },
  undo: { track: undoTrack },
  importers: { positions: importPositionsJob },
  schedules: { check: scheduledCheck },
}
