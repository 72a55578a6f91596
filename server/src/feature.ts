import type { JobKind } from '@dew-trail/contract/jobs'
import type { Express } from 'express'
import type { Context } from './context.ts'
import type { JobWork } from './jobs/jobs.ts'
import type { ScheduleRow } from './schedules/queries.ts'

/** Begins what a schedule is for, mostly by making a job. */
export type ScheduleWork = (context: Context, schedule: ScheduleRow) => Promise<void>

/** What a part of the program adds to the server. A part is registered by one line in `features.ts`. */
export type Feature = {
  /** Mounts its endpoints. */
  mount?(app: Express, context: Context): void
  /** Work of its kinds of jobs. */
  jobs?: Partial<Record<JobKind, JobWork>>
  /** Work of its kinds of schedules. */
  schedules?: Record<string, ScheduleWork>
  /** What it does each night, by name. */
  nightly?: Record<string, (context: Context) => Promise<void>>
}
