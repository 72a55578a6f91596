import type { Feature } from '../../feature.ts'
import { mountJobs } from './routes.ts'

export const jobsFeature: Feature = {
  mount: mountJobs,
}
