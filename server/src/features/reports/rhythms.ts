import type { Report } from '@dew-trail/contract/reports'
import { nextRun } from '@dew-trail/core/days/next-run'
import { deleteSchedule, manySchedules, oneTimeZone, upsertSchedule } from '../../domain/schedules/queries.ts'
import type { Db } from '../../platform/db/pool.ts'
import type { ReportRow } from './queries.ts'

/** The kind under which reports issue themselves; the subject names the report. */
export const reportKind = 'report'

/** Reports with when they issue themselves, and what went wrong the last time that they did. */
export async function withRhythms(db: Db, siteId: number, rows: readonly ReportRow[]): Promise<Report[]> {
  const schedules = await manySchedules(db, siteId, reportKind)
  return rows.map(row => {
    const schedule = schedules.find(each => each.subject.reportId === row.id)
    return { ...row, rhythm: schedule?.rhythm ?? null, problem: schedule?.lastError ?? null }
  })
}
export async function maybeRhythm(db: Db, siteId: number, reportId: number): Promise<Report['rhythm']> {
  const schedules = await manySchedules(db, siteId, reportKind)
  return schedules.find(each => each.subject.reportId === reportId)?.rhythm ?? null
}
/** Lets a report issue itself by a rhythm, or (null) no more; undefined leaves it as it is. */
export async function setRhythm(
  db: Db,
  siteId: number,
  reportId: number,
  rhythm: Report['rhythm'] | undefined,
): Promise<void> {
  if (rhythm === undefined) return
  if (rhythm === null) return deleteSchedule(db, siteId, reportKind, { reportId })
  const nextAt = nextRun(rhythm, await oneTimeZone(db, siteId), new Date())
  await upsertSchedule(db, siteId, reportKind, { reportId }, rhythm, nextAt)
}
