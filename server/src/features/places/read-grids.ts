import type { PlaceGrid } from '@dew-trail/contract/places'
import { AppError } from '@dew-trail/contract/errors'
import type pg from 'pg'
import { manySchedules, oneTimeZone } from '../../domain/schedules/queries.ts'
import type { Db } from '../../platform/db/pool.ts'
import { type GridRow, manyBusinesses, manyGrids, manyRuns, maybeGrid, maybeRun, type RunRow } from './queries.ts'

/** The kind under which runs come round; the subject names the grid. */
export const placesKind = 'places'

export async function needGrid(db: Db, siteId: number, gridId: number): Promise<GridRow> {
  const grid = await maybeGrid(db, siteId, gridId)
  if (!grid) throw new AppError('notFound', 'This grid was removed')
  return grid
}
export async function needRun(db: Db, siteId: number, runId: number): Promise<{ run: RunRow; grid: GridRow }> {
  const run = await maybeRun(db, siteId, runId)
  if (!run) throw new AppError('notFound', 'This run was removed')
  return { run, grid: await needGrid(db, siteId, run.gridId) }
}

/** Requests that a run takes: its points but those left out, for each keyword. */
export const requestsOf = (
  { size }: Pick<GridRow, 'size'>,
  { keywords, leftOut }: Pick<RunRow, 'keywords' | 'leftOut'>,
) => keywords.length * (size * size - leftOut.length)

/** All grids of a site, the newest first, with their runs and schedules. */
export async function readGrids(pool: pg.Pool, siteId: number): Promise<{ timeZone: string; grids: PlaceGrid[] }> {
  const [timeZone, grids, runs, schedules] = await Promise.all([
    oneTimeZone(pool, siteId),
    manyGrids(pool, siteId),
    manyRuns(pool, siteId, null),
    manySchedules(pool, siteId, placesKind),
  ])
  const known = await manyBusinesses(pool, siteId, [...new Set(grids.flatMap(grid => grid.businessIds))])
  return {
    timeZone,
    grids: grids.map(({ businessIds, ...grid }) => {
      const schedule = schedules.find(each => each.subject.gridId === grid.id)
      return {
        ...grid,
        businesses: known
          .filter(each => businessIds.includes(each.number))
          .map(({ number, id, name, latitude, longitude }) => ({ number, id, name, latitude, longitude })),
        runs: runs
          .filter(run => run.gridId === grid.id)
          .map(({ id, day, keywords, leftOut, jobId, checked }) => ({
            id,
            day,
            keywords,
            wanted: requestsOf(grid, { keywords, leftOut }),
            checked,
            jobId,
          })),
        schedule: schedule
          ? {
              rhythm: schedule.rhythm,
              nextAt: schedule.nextAt.toISOString(),
              lastAt: schedule.lastAt?.toISOString() ?? null,
              wasLate: schedule.wasLate,
              lastError: schedule.lastError,
            }
          : null,
      }
    }),
  }
}
