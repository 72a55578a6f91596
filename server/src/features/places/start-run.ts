import { AppError } from '@dew-trail/contract/errors'
import type { Context } from '../../context.ts'
import { inTransaction } from '../../platform/db/pool.ts'
import { lockSite } from '../../domain/sites/queries.ts'
import { hasOpenRun, insertRun, manyGrids, setRunJob } from './queries.ts'
import { needGrid, needRun, requestsOf } from './read-grids.ts'

type Wanted = { gridId: number; runId?: number | undefined; day?: string | undefined; due?: string }

/** Makes a job that asks about the points of a grid, or about those that a run lacks. Throws "conflict" when nothing is lacking. */
export async function startRun(context: Context, siteId: number, { gridId, runId, day, due }: Wanted) {
  const today = new Date().toISOString().slice(0, 10)
  if (day && day > today) throw new AppError('badInput', `${day} is still to come`)
  const again = runId === undefined ? null : await needRun(context.pool, siteId, runId)
  if (again && again.grid.id !== gridId) throw new AppError('notFound', `The grid has no run ${runId}`)
  const grid = again?.grid ?? (await needGrid(context.pool, siteId, gridId))
  const requests = again
    ? requestsOf(grid, again.run) - again.run.checked
    : requestsOf(grid, { keywords: grid.keywords, leftOut: grid.leftOut })
  if (!requests) throw new AppError('conflict', 'This run has all its points')
  if (!again && (await hasOpenRun(context.pool, siteId, gridId)))
    throw new AppError('conflict', 'A run of this grid is under way')
  const id =
    runId ??
    (await inTransaction(context.pool, async db => {
      await lockSite(db, siteId)
      const { keywords, leftOut } = (await manyGrids(db, siteId)).find(each => each.id === gridId) ?? grid
      return insertRun(db, siteId, { gridId, day: day ?? today, keywords, leftOut })
    }))
  const job = await context.jobs.add(
    siteId,
    'places',
    `Positions over ${grid.townName}: ${grid.name}${again ? ', what failed' : ''}${due ? ` (${due})` : ''}`,
    { runId: id, ...(day ? { day } : {}) },
    String(id),
  )
  await setRunJob(context.pool, siteId, id, job.id)
  context.events.publish(siteId, { type: 'places' })
  return { runId: id, jobId: job.id, requests }
}
