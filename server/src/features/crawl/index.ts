import type { Feature } from '../../feature.ts'
import { importPagesJob } from './import-pages-job.ts'
import { crawlJob } from './job.ts'
import { takeBackPages } from './take-back-pages.ts'
import { mountCrawl } from './routes.ts'

export const crawlFeature: Feature = {
  mount: mountCrawl,
  jobs: { crawl: crawlJob, importPages: importPagesJob },
  takeBacks: { pages: takeBackPages },
}
