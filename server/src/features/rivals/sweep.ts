import { AppError } from '@dew-trail/contract/errors'
import { listSweeps, type SweepPart, setSweep, startSweep, sweepParts } from '@dew-trail/contract/sweeps'
import { nextRun } from '@dew-trail/core/days/next-run'
import type { Express } from 'express'
import type { Context } from '../../context.ts'
import { countOf } from '../../domain/acts/do-act.ts'
import { fetchResults } from '../../domain/results/fetch-results.ts'
import { deleteSchedule, manySchedules, oneTimeZone, upsertSchedule } from '../../domain/schedules/queries.ts'
import type { ScheduleWork } from '../../domain/schedules/run-due.ts'
import { keepLatestPositions } from '../../domain/positions/keep-latest-positions.ts'
import { needMarket, needSite } from '../../domain/sites/need-market.ts'
import type { Db } from '../../platform/db/pool.ts'
import { mount } from '../../platform/http/mount.ts'
import type { JobControl } from '../../platform/jobs/job-control.ts'

const depths: Record<SweepPart, number> = { weekly: 20, full: 100 }
/** Kinds under which sweeps come round; the subject names the market. */
const kinds: Record<SweepPart, string> = { weekly: 'sweepWeekly', full: 'sweepFull' }
const mostSearched = 2_000

type Market = Awaited<ReturnType<typeof needMarket>>

/** Keywords of a part, the kept and then the most searched first; `fresh`: results as deep were fetched today. */
async function manyToSweep(
  db: Db,
  siteId: number,
  market: Market,
  part: SweepPart,
): Promise<Array<{ id: number; fresh: boolean }>> {
  const { rows } = await db.query<{ id: number; fresh: boolean }>(
    `select r.id, coalesce(h.day >= current_date and h.depth >= $5, false) fresh
     from (
       select k.id, k.kept_at is not null kept, d.searches,
         row_number() over (order by d.searches desc nulls last, k.id) as position
       from keyword k left join demand d on d.site_id = $1 and d.keyword_id = k.id and d.place = $3
       where k.site_id = $1 and k.language = $4
     ) r
     left join result_head h on h.site_id = $1 and h.market_id = $2 and h.keyword_id = r.id
     where $6::integer is null or r.kept or (r.position <= $6 and r.searches is not null)
     order by r.kept desc, r.searches desc nulls last, r.id`,
    [siteId, market.id, market.place, market.language, depths[part], part === 'weekly' ? mostSearched : null],
  )
  return rows
}
async function addSweep(context: Context, siteId: number, marketId: number, part: SweepPart) {
  const market = await needMarket(context.pool, siteId, marketId)
  const keywordIds = (await manyToSweep(context.pool, siteId, market, part))
    .filter(row => !row.fresh)
    .map(row => row.id)
  if (!keywordIds.length)
    throw new AppError(
      'badInput',
      'There is no keyword whose results were not fetched as deep today. Gather some first.',
    )
  const title = `Fetching results of ${countOf(keywordIds.length, 'keyword')} on ${market.engine}, ${market.device}`
  const job = await context.jobs.add(siteId, 'sweep', title, { marketId, depth: depths[part], keywordIds })
  return { jobId: job.id, requests: keywordIds.length }
}

const scheduled =
  (part: SweepPart): ScheduleWork =>
  async (context, { siteId, subject }) => {
    const { paused } = await needMarket(context.pool, siteId, subject.marketId!)
    if (!paused) await addSweep(context, siteId, subject.marketId!, part)
  }
export const sweepSchedules = { [kinds.weekly]: scheduled('weekly'), [kinds.full]: scheduled('full') }

export function mountSweeps(app: Express, context: Context): void {
  const { pool } = context
  mount(app, listSweeps, async ({ siteId, marketId }) => {
    const market = await needMarket(pool, siteId, marketId)
    const schedules = await manySchedules(pool, siteId, null)
    const sweeps = []
    for (const part of sweepParts) {
      const rows = await manyToSweep(pool, siteId, market, part)
      const schedule = schedules.find(row => row.kind === kinds[part] && row.subject.marketId === marketId)
      sweeps.push({
        part,
        depth: depths[part],
        keywords: rows.length,
        requests: rows.filter(row => !row.fresh).length,
        rhythm: schedule?.rhythm ?? null,
        nextAt: schedule?.nextAt.toISOString() ?? null,
        lastAt: schedule?.lastAt?.toISOString() ?? null,
        wasLate: schedule?.wasLate ?? false,
        lastError: schedule?.lastError ?? null,
      })
    }
    const { mostADay } = context.sources.clients.engines
    return { timeZone: await oneTimeZone(pool, siteId), mostSearched, mostADay, sweeps }
  })
  mount(app, setSweep, async ({ siteId, marketId, part, rhythm }) => {
    await needMarket(pool, siteId, marketId)
    if (rhythm) {
      const nextAt = nextRun(rhythm, await oneTimeZone(pool, siteId), new Date())
      await upsertSchedule(pool, siteId, kinds[part], { marketId }, rhythm, nextAt)
    } else await deleteSchedule(pool, siteId, kinds[part], { marketId })
    context.events.publish(siteId, { type: 'schedules' })
    return {}
  })
  mount(app, startSweep, ({ siteId, marketId, part }) => addSweep(context, siteId, marketId, part))
}

/**
 * Fetches results of the job's keywords in their order. A request that fails leaves a keyword's results as they were; where a quota ends
 * the job stops with what it has, and goes on from there when it is started again.
 */
export async function sweepJob(context: Context, control: JobControl): Promise<object> {
  const { siteId } = control
  const { marketId, depth, keywordIds } = control.job.payload as {
    marketId: number
    depth: number
    keywordIds: number[]
  }
  const market = await needMarket(context.pool, siteId, marketId)
  control.clearWarnings()
  const site = await needSite(context.pool, siteId)
  const failed = await fetchResults(context, control, market, { keywordIds, depth }, pages =>
    keepLatestPositions(
      context,
      site,
      market,
      pages.map(page => page.keywordId),
    ),
  )
  return { keywords: keywordIds.length, failed: failed.length }
}
