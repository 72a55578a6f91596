import { nextRun } from '@dew-trail/core/days/next-run'
import type { Context } from '../../context.ts'
import { inTransaction } from '../../platform/db/pool.ts'
import { manyDue, markRun, type ScheduleRow } from './queries.ts'

/** Begins what a schedule is for, mostly by making a job. */
export type ScheduleWork = (context: Context, schedule: ScheduleRow, now: Date) => Promise<void>

/** A run that begins later than this after its time is marked late. */
const lateMs = 15 * 60_000
export const isLate = (nextAt: Date, now: Date): boolean => now.getTime() - nextAt.getTime() > lateMs

/**
 * Begins the work of all schedules whose time has come, once each however many times were missed, and gives how many. What one cannot do
 * is written to it, and it comes round again at its next time.
 */
export async function runDue(
  context: Context,
  works: Readonly<Record<string, ScheduleWork>>,
  now = new Date(),
): Promise<number> {
  return inTransaction(context.pool, async db => {
    const due = await manyDue(db, now)
    for (const schedule of due) {
      let error: string | null = null
      try {
        const work = works[schedule.kind]
        if (!work) throw new Error(`Nothing here does "${schedule.kind}"`)
        await work(context, schedule, now)
      } catch (failure) {
        error = (failure as Error).message
        context.log.warn({ err: failure, siteId: schedule.siteId, kind: schedule.kind }, 'a schedule could not begin')
      }
      await markRun(db, schedule, {
        at: now,
        late: isLate(schedule.nextAt, now),
        error,
        nextAt: nextRun(schedule.rhythm, schedule.timeZone, now),
      })
    }
    return due.length
  })
}
