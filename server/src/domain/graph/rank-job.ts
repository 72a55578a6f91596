import type { Context } from '../../context.ts'
import { inTransaction } from '../../platform/db/pool.ts'
import type { JobControl } from '../../platform/jobs/job-control.ts'
import { runInThread } from '../../platform/jobs/run-in-thread.ts'
import { lockGraph, sumLinks } from './queries.ts'
import type { RankReport } from './rank-graph.ts'
import type { RankQuestion } from './rank-thread.ts'
import { vetByName } from './vet-sites.ts'

/** Brings sums up to date, then computes standing, trust and clusters in a thread and keeps them as a snapshot. */
export async function rankJob(context: Context, control: JobControl): Promise<object> {
  const graphId = Number(control.job.payload.graphId ?? 1)
  await sumAllLinks(context, graphId, control.signal)
  await vetByName(context.pool, graphId)
  await control.step(1, 3)
  const question: RankQuestion = {
    databaseUrl: context.config.DATABASE_URL,
    settings: {
      graphId,
      pageReference: context.config.STANDING_REFERENCE_PAGE_RANK,
      siteReference: context.config.STANDING_REFERENCE_SITE_RANK,
      space: { folder: context.config.DATA_DIR, mostInMemory: context.config.RANK_MEMORY_LINKS },
    },
  }
  const report: RankReport = await runInThread(new URL('./rank-thread.ts', import.meta.url), question, control.signal)
  await control.step(3, 3)
  context.events.publish(null, { type: 'crawls' })
  return report
}

const sitesAtATime = 2_000
/** Sums of all linked sites whose links changed. */
export async function sumAllLinks(context: Context, graphId: number, signal: AbortSignal): Promise<void> {
  for (;;) {
    signal.throwIfAborted()
    const summed = await inTransaction(context.pool, async db => {
      await lockGraph(db, graphId)
      return sumLinks(db, graphId, sitesAtATime)
    })
    if (!summed) return
  }
}
