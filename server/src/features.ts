import type { JobKind } from '@dew-trail/contract/jobs'
import { crawlFeature } from './crawl/index.ts'
import { gatherFeature } from './gather/index.ts'
import { importsFeature } from './imports/index.ts'
import { jobsFeature } from './jobs/index.ts'
import { linksFeature } from './links/index.ts'
import { listsFeature } from './lists/index.ts'
import { logFeature } from './log/index.ts'
import { notesFeature } from './notes/index.ts'
import { planFeature } from './plan/index.ts'
import { sitesFeature } from './sites/index.ts'
import { sourcesFeature } from './sources/index.ts'
import { trackFeature } from './track/index.ts'
import { viewsFeature } from './views/index.ts'
import { weighFeature } from './weigh/index.ts'
import type { Feature, ScheduleWork } from './feature.ts'
import type { JobWork } from './jobs/jobs.ts'

/** All parts of the program, in the order in which their endpoints are mounted: a new one is a folder and a line here. */
export const features: readonly Feature[] = [
  importsFeature,
  sitesFeature,
  jobsFeature,
  gatherFeature,
  logFeature,
  viewsFeature,
  listsFeature,
  weighFeature,
  planFeature,
  trackFeature,
  crawlFeature,
  linksFeature,
  sourcesFeature,
  notesFeature,
]

/** What all features registered under `part`, by name. Throws where two registered the same. */
function registered<Work>(part: (feature: Feature) => Record<string, Work> | undefined): Record<string, Work> {
  const all: Record<string, Work> = {}
  for (const feature of features)
    for (const [name, work] of Object.entries(part(feature) ?? {})) {
      if (name in all) throw new Error(`"${name}" is registered twice`)
      all[name] = work
    }
  return all
}
export const jobWorks = (): Record<JobKind, JobWork> =>
  registered(feature => feature.jobs as Record<string, JobWork> | undefined) as Record<JobKind, JobWork>
export const scheduleWorks = (): Record<string, ScheduleWork> => registered(feature => feature.schedules)
export const nightlyWorks = () => registered(feature => feature.nightly)
