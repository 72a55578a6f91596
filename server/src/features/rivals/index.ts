import type { Feature } from '../../feature.ts'
import { rankingsJob } from './rankings-job.ts'
import { mountRivals, undoRival } from './routes.ts'

export const rivalsFeature: Feature = {
  mount: mountRivals,
  jobs: { rankings: rankingsJob },
  undo: { rival: undoRival },
}
