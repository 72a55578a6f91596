import { gridPoints } from '@dew-trail/core/places/grid-points'
import type { Context } from '../../context.ts'
import { lockSite } from '../../domain/sites/queries.ts'
import { inTransaction } from '../../platform/db/pool.ts'
import { askEach } from '../../platform/jobs/ask-each.ts'
import type { JobControl } from '../../platform/jobs/job-control.ts'
import { askLocal, type SourceListing } from '../../sources/ask-places.ts'
import { insertPoints, manyPoints, upsertBusinesses } from './queries.ts'
import { needRun, requestsOf } from './read-grids.ts'

const atOnce = 8
const saveEvery = 60
type Found = { keyword: number; point: number; listings: SourceListing[] }

/**
 * Asks for the local results at each point of a run that has none yet. A point whose request fails stays without results: it was not
 * checked, and is asked about when the job is tried again.
 */
export async function placesJob(context: Context, control: JobControl): Promise<object> {
  const { siteId } = control
  const { runId, day } = control.job.payload as { runId: number; day?: string }
  const { run, grid } = await needRun(context.pool, siteId, runId)
  const points = gridPoints(grid, grid.size, grid.spacing)
  const known = new Set(
    (await manyPoints(context.pool, siteId, [runId], null)).map(each => `${each.keyword}:${each.point}`),
  )
  const leftOut = new Set(run.leftOut)
  const work = run.keywords.flatMap((phrase, keyword) =>
    points.flatMap((at, point) =>
      leftOut.has(point) || known.has(`${keyword}:${point}`) ? [] : [{ phrase, keyword, point, at }],
    ),
  )
  const total = requestsOf(grid, run)
  control.clearWarnings()
  let done = total - work.length
  let failed = 0
  await control.step(done, total)

  let waiting: Found[] = []
  let saving = Promise.resolve()
  const flush = (): Promise<void> => {
    const found = waiting
    waiting = []
    saving = saving.then(async () => {
      if (!found.length) return
      await inTransaction(context.pool, async db => {
        await lockSite(db, siteId)
        const listings = new Map(found.flatMap(each => each.listings.map(listing => [listing.id, listing])))
        const numbers = await upsertBusinesses(db, siteId, [...listings.values()], run.day)
        await insertPoints(
          db,
          siteId,
          runId,
          found.map(each => ({ ...each, listings: each.listings.map(({ id }) => numbers.get(id)!) })),
        )
      })
      context.events.publish(siteId, { type: 'places' })
    })
    return saving
  }
  const { engine, language, depth } = grid
  const halted = await askEach(
    control,
    work,
    atOnce,
    async ({ phrase, keyword, point, at }) => {
      const asked = { engine, language, phrase, point: at, depth, day: day ?? null }
      const { listings } = await askLocal(context.sources, asked, control.signal)
      waiting.push({ keyword, point, listings })
      done++
      if (waiting.length >= saveEvery) await flush()
      await control.step(done, total)
    },
    () => failed++,
  )
  await flush()
  if (halted) throw halted
  await control.step(done, total)
  return { checked: done, failed }
}
