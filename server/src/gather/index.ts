import type { Feature } from '../feature.ts'
import { figuresJob } from './figures-job.ts'
import { gatherJob } from './job.ts'
import { mountGather } from './routes.ts'

export const gatherFeature: Feature = {
  mount: mountGather,
  jobs: { gather: gatherJob, figures: figuresJob },
}
