import type { Feature } from '../../feature.ts'
import { weighJob } from './job.ts'
import { rescoreAll } from './rescore.ts'
import { learnJob } from './learn-job.ts'
import { pruneOldPages } from './prune-pages.ts'
import { refreshOldWeighings } from './refresh-old.ts'
import { scaleJob } from './scale-job.ts'
import { mountWeigh } from './routes.ts'

export const weighFeature: Feature = {
  mount: mountWeigh,
  jobs: { weigh: weighJob, learn: learnJob, scale: scaleJob },
  nightly: {
    'nightly-pruning': async context => void (await pruneOldPages(context)),
    'nightly-rescoring': rescoreAll,
    'nightly-weighings': async context => void (await refreshOldWeighings(context)),
  },
}
