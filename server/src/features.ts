import type { ImportKind } from '@dew-trail/contract/imports'
import type { JobKind } from '@dew-trail/contract/jobs'
import { crawlFeature } from './features/crawl/index.ts'
import { findsFeature } from './features/finds/index.ts'
import { gatherFeature } from './features/gather/index.ts'
import { groupFeature } from './features/group/index.ts'
import { takeBackJob } from './features/imports/take-back-job.ts'
import { importsFeature } from './features/imports/index.ts'
import { jobsFeature } from './features/jobs/index.ts'
import { keepingFeature } from './features/keeping/index.ts'
import { linksFeature } from './features/links/index.ts'
import { listsFeature } from './features/lists/index.ts'
import { logFeature } from './features/log/index.ts'
import { notesFeature } from './features/notes/index.ts'
import { ownApiFeature } from './features/own-api/index.ts'
import { peopleFeature } from './features/people/index.ts'
import { placesFeature } from './features/places/index.ts'
import { planFeature } from './features/plan/index.ts'
import { reportsFeature } from './features/reports/index.ts'
import { setReportParts } from './features/reports/report-parts.ts'
import { rivalsFeature } from './features/rivals/index.ts'
import { sitesFeature } from './features/sites/index.ts'
import { sourcesFeature } from './features/sources/index.ts'
import { trackFeature } from './features/track/index.ts'
import { viewsFeature } from './features/views/index.ts'
import { webHooksFeature } from './features/web-hooks/index.ts'
import { weighFeature } from './features/weigh/index.ts'
import type { Feature } from './feature.ts'
import { importJobOf } from './domain/imports/import-job.ts'
import type { Table } from './platform/tables/table.ts'
import type { UndoWork } from './domain/acts/do-act.ts'
import type { ScheduleWork } from './domain/schedules/run-due.ts'
import type { JobWork } from './platform/jobs/jobs.ts'

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
  groupFeature,
  trackFeature,
  planFeature,
  crawlFeature,
  linksFeature,
  findsFeature,
  sourcesFeature,
  notesFeature,
  rivalsFeature,
  placesFeature,
  reportsFeature,
  peopleFeature,
  webHooksFeature,
  ownApiFeature,
  keepingFeature,
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
/** The work of every kind of job, importers' included. */
export const jobWorks = (): Record<JobKind, JobWork> =>
  ({
    ...registered(({ jobs, importers = {} }) => ({
      ...jobs,
      ...Object.fromEntries(Object.entries(importers).map(([kind, work]) => [importJobOf(kind as ImportKind), work])),
    })),
    takeBack: takeBackJob(registered(feature => feature.takeBacks)),
  }) as Record<JobKind, JobWork>
export const tables = (): Record<string, Table> => registered(feature => feature.tables)
export const undoWorks = (): Record<string, UndoWork> => registered(feature => feature.undo)
export const scheduleWorks = (): Record<string, ScheduleWork> => registered(feature => feature.schedules)
export const nightlyWorks = () => registered(feature => feature.nightly)
export const minutelyWorks = () => registered(feature => feature.minutely)
setReportParts({
  sections: registered(feature => feature.sections),
  figures: features.flatMap(feature => feature.figures ?? []),
  tables: tables(),
})
