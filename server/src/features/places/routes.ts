import {
  changePlaceGrid,
  createPlaceGrid,
  listDoubtfulListings,
  listPlaceGrids,
  listPlaceSums,
  listTowns,
  readPlaceRun,
  readTown as readTownEndpoint,
  removePlaceGrid,
  removePlaceRun,
  setPlaceSchedule,
  startPlaceRun,
} from '@dew-trail/contract/places'
import { nextRun } from '@dew-trail/core/days/next-run'
import type { Router } from 'express'
import type { Context } from '../../context.ts'
import { deleteSchedule, oneTimeZone, upsertSchedule } from '../../domain/schedules/queries.ts'
import { mount } from '../../platform/http/mount.ts'
import { askTowns } from '../../sources/ask-places.ts'
import { changeGrid, makeGrid, removePlace } from './make-grid.ts'
import { needGrid, needRun, placesKind, readGrids } from './read-grids.ts'
import { readRun, readSums } from './read-run.ts'
import { readDoubtful, readTown } from './read-town.ts'
import { startRun } from './start-run.ts'

export function mountPlaces(router: Router, context: Context): void {
  const { pool } = context
  mount(router, listTowns, () => askTowns(context.sources))
  mount(router, readTownEndpoint, ({ siteId, town }) => readTown(context, siteId, town))
  mount(router, listDoubtfulListings, ({ siteId, town }) => readDoubtful(context, siteId, town))
  mount(router, listPlaceGrids, ({ siteId }) => readGrids(pool, siteId))
  mount(router, createPlaceGrid, ({ siteId, ...grid }) => makeGrid(context, siteId, grid))
  mount(router, changePlaceGrid, ({ siteId, gridId, version, ...change }) =>
    changeGrid(context, siteId, gridId, version, change),
  )
  mount(router, removePlaceGrid, async ({ siteId, gridId }) => {
    const { name } = await needGrid(pool, siteId, gridId)
    return removePlace(context, siteId, 'place_grid', gridId, `Grid "${name}" removed`)
  })
  mount(router, startPlaceRun, ({ siteId, ...wanted }) => startRun(context, siteId, wanted))
  mount(router, removePlaceRun, async ({ siteId, runId }) => {
    const { run, grid } = await needRun(pool, siteId, runId)
    return removePlace(context, siteId, 'place_run', runId, `Run of ${run.day} of "${grid.name}" removed`)
  })
  mount(router, setPlaceSchedule, async ({ siteId, gridId, rhythm }) => {
    await needGrid(pool, siteId, gridId)
    const subject = { gridId }
    if (rhythm) {
      const nextAt = nextRun(rhythm, await oneTimeZone(pool, siteId), new Date())
      await upsertSchedule(pool, siteId, placesKind, subject, rhythm, nextAt)
    } else await deleteSchedule(pool, siteId, placesKind, subject)
    context.events.publish(siteId, { type: 'schedules' })
    return {}
  })
  mount(router, readPlaceRun, ({ siteId, runId, keyword }) => readRun(pool, siteId, runId, keyword))
  mount(router, listPlaceSums, ({ siteId, gridId }) => readSums(pool, siteId, gridId))
}
