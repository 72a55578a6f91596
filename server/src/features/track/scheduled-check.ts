import { isLate, type ScheduleWork } from '../../domain/schedules/run-due.ts'
import { needMarket } from '../../domain/sites/need-market.ts'
import { startCheck } from './start-check.ts'

/** The kind under which checks of positions come round; the subject names the market. */
export const checkKind = 'check'

export const scheduledCheck: ScheduleWork = async (context, { siteId, subject, nextAt }, now) => {
  const { paused } = await needMarket(context.pool, siteId, subject.marketId!)
  if (!paused)
    await startCheck(context, siteId, { marketId: subject.marketId!, scheduled: { late: isLate(nextAt, now) } })
}
