import type { Context } from '../../context.ts'
import { maybeRunningJobId, hasWaitingJob } from '../../platform/jobs/queries.ts'

/** Has standing computed anew after links came in; a computation that has not begun yet will do for all that came before it. */
export async function askForRank(context: Context, graphId = 1): Promise<void> {
  if (await hasWaitingJob(context.pool, 'rank')) return
  // One that runs has read the links before these came, so it is not the same work.
  const key = `after ${(await maybeRunningJobId(context.pool, 'rank')) ?? 'none'}`
  await context.jobs.add(null, 'rank', 'Computing standing and trust', { graphId }, key)
}
