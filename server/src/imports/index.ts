import type { Feature } from '../feature.ts'
import { importGraphJob } from './import-graph-job.ts'
import { importKeywordsJob } from './import-keywords-job.ts'
import { importLinksJob } from './import-links-job.ts'
import { importLogJob } from './import-log-job.ts'
import { importPagesJob } from './import-pages-job.ts'
import { importPositionsJob } from './import-positions-job.ts'
import { mountImports } from './routes.ts'

export const importsFeature: Feature = {
  mount: mountImports,
  jobs: {
    importKeywords: importKeywordsJob,
    importPositions: importPositionsJob,
    importLog: importLogJob,
    importLinks: importLinksJob,
    importPages: importPagesJob,
    importGraph: importGraphJob,
  },
}
