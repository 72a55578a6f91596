import type { Feature } from '../feature.ts'
import { checkJob } from './job.ts'
import { mountTrack } from './routes.ts'
import { scheduledCheck } from './scheduled-check.ts'

export const trackFeature: Feature = {
  mount: mountTrack,
  jobs: { check: checkJob },
  schedules: { check: scheduledCheck },
}
