import type { Feature } from '../../feature.ts'
import { pruneFiguresChanges } from '../../platform/db/figures-change.ts'
import { rankingsJob } from './rankings-job.ts'
import { mountRivals, undoRival } from './routes.ts'
import { mountSweeps, sweepJob, sweepSchedules } from './sweep.ts'
import { rivalSections } from './report-sections.ts'

export const rivalsFeature: Feature = {
  mount: (app, context) => {
    mountSweeps(app, context)
    mountRivals(app, context)
  },
  jobs: { rankings: rankingsJob, sweep: sweepJob },
  schedules: sweepSchedules,
  undo: { rival: undoRival },
  nightly: { 'nightly-figures-changes': context => pruneFiguresChanges(context.pool) },
  sections: rivalSections,
}
