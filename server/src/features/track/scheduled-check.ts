import type { ScheduleWork } from '../../domain/schedules/run-due.ts'
import { startCheck } from './start-check.ts'

/** The kind under which checks of positions come round; the subject names the market. */
export const checkKind = 'check'

export const scheduledCheck: ScheduleWork = async (context, { siteId, subject }) => {
  await startCheck(context, siteId, { marketId: subject.marketId!, due: 'by its schedule' })
}
