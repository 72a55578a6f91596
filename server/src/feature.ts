import type { AnyImportKind, ImportKind } from '@dew-trail/contract/imports'
import type { JobKind } from '@dew-trail/contract/jobs'
import type { Express } from 'express'
import type { Context } from './context.ts'
import type { JobWork } from './platform/jobs/jobs.ts'
import type { Table } from './platform/tables/table.ts'
import type { SectionKind } from '@dew-trail/contract/reports'
import type { Figure } from '@dew-trail/core/reports/report-document'
import type { ReportSection, SectionOf } from './platform/reports/report-section.ts'
import type { UndoWork } from './domain/acts/do-act.ts'
import type { TakeBackWork } from './domain/imports/take-back-work.ts'
import type { ScheduleWork } from './domain/schedules/run-due.ts'

/** What a part of the program adds to the server. A part is registered by one line in `features.ts`. */
export type Feature = {
  /** Mounts its endpoints. */
  mount?(app: Express, context: Context): void
  /** Work of its kinds of jobs. */
  jobs?: Partial<Record<JobKind, JobWork>>
  /** Work of its kinds of schedules. */
  schedules?: Record<string, ScheduleWork>
  /** Reads a file of a kind whose columns somebody mapped; the work of the job `importJobOf(kind)`. */
  importers?: Partial<Record<ImportKind, JobWork>>
  /** Takes an import of a kind back, or puts it back. */
  takeBacks?: Partial<Record<AnyImportKind, TakeBackWork>>
  /** Tables that the server writes to files, by name. */
  tables?: Record<string, Table>
  /** What it says in reports, by the kind of section; `figures` are put into one row with those of the others. */
  sections?: Partial<Record<SectionKind, ReportSection>>
  figures?: (context: Context, of: SectionOf) => Promise<Figure[]>
  /** How acts of its kinds are undone. */
  undo?: Record<string, UndoWork>
  /** What it does each night, by name. */
  nightly?: Record<string, (context: Context) => Promise<void>>
  /** What it does each minute, by name. */
  minutely?: Record<string, (context: Context) => Promise<void>>
}
