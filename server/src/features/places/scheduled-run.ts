import type { ScheduleWork } from '../../domain/schedules/run-due.ts'
import { maybeGrid } from './queries.ts'
import { startRun } from './start-run.ts'

/** Runs a grid whose time has come; one that was removed is left alone, and runs again once that is undone. */
export const scheduledRun: ScheduleWork = async (context, { siteId, subject }) => {
  if (await maybeGrid(context.pool, siteId, subject.gridId!))
    await startRun(context, siteId, { gridId: subject.gridId!, due: 'by its schedule' })
}
