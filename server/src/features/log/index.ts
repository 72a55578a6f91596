import type { Feature } from '../../feature.ts'
import { importLogJob } from './import-log-job.ts'
import { logJob } from './job.ts'
import { takeBackLog } from './take-back-log.ts'
import { mountLog } from './routes.ts'

export const logFeature: Feature = {
  mount: mountLog,
  jobs: { log: logJob },
  importers: { log: importLogJob },
  takeBacks: { log: takeBackLog },
}
