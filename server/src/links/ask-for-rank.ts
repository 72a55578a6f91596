import type { Context } from '../context.ts'
import { hasWaitingJob } from '../jobs/queries.ts'

/** Has standing computed anew after links came in; a computation that has not begun yet will do for all that came before it. */
export async function askForRank(context: Context, siteId: number, graphId = 1): Promise<void> {
  if (await hasWaitingJob(context.pool, 'rank')) return
  await context.jobs.add(siteId, 'rank', 'Computing standing and trust', { graphId })
}
