import { AppError } from '@dew-trail/contract/errors'
import { gridPoints } from '@dew-trail/core/places/grid-points'
import { countOf, doAct } from '../../domain/acts/do-act.ts'
import type { Context } from '../../context.ts'
import { askBusinesses, askTowns } from '../../sources/ask-places.ts'
import { type GridChange, insertGrid, type NewGrid, setRemoved, updateGrid, upsertBusinesses } from './queries.ts'
import { needGrid } from './read-grids.ts'

type Wanted = Omit<NewGrid, 'name' | 'townName' | 'businessIds'> & { name?: string | undefined; businesses: string[] }

/** Lays a grid. Throws "badInput" for a town, an engine or a business that there is not, and for points near a pole. */
export async function makeGrid(context: Context, siteId: number, wanted: Wanted) {
  const { sources } = context
  const [towns, engines, listed] = await Promise.all([
    askTowns(sources),
    sources.engines(),
    askBusinesses(sources, wanted.town),
  ])
  const town = towns.find(each => each.code === wanted.town)
  if (!town) throw new AppError('badInput', `There is no map of a town "${wanted.town}"`)
  if (!engines.some(each => each.engine === wanted.engine))
    throw new AppError('badInput', `There is no engine "${wanted.engine}"`)
  const own = wanted.businesses.map(id => {
    const business = listed.find(each => each.id === id)
    if (!business) throw new AppError('badInput', `${town.name} has no business "${id}" on its map`)
    return business
  })
  try {
    gridPoints(wanted, wanted.size, wanted.spacing)
  } catch (error) {
    throw new AppError('badInput', (error as Error).message)
  }
  const keywords = [...new Set(wanted.keywords.map(each => each.replace(/\s+/g, ' ')))]
  const name = wanted.name || `${own[0]!.name}, ${wanted.size} × ${wanted.size}`
  return doAct(context, siteId, async db => {
    const numbers = await upsertBusinesses(db, siteId, own, new Date().toISOString().slice(0, 10))
    const gridId = await insertGrid(db, siteId, {
      ...wanted,
      name,
      keywords,
      townName: town.name,
      businessIds: own.map(each => numbers.get(each.id)!),
    })
    return {
      answer: { gridId },
      act: { kind: 'createPlaceGrid', title: `Grid "${name}" laid over ${town.name}`, data: { gridId } },
      changed: ['places'],
    }
  })
}

/** Changes a grid for its next runs; runs that there are stay as they were. */
export async function changeGrid(
  context: Context,
  siteId: number,
  gridId: number,
  version: number,
  wanted: { [Key in keyof GridChange]?: GridChange[Key] | undefined },
) {
  return doAct(context, siteId, async db => {
    const grid = await needGrid(db, siteId, gridId)
    if (grid.version !== version)
      throw new AppError('conflict', 'Somebody changed this grid meanwhile; look at it again and repeat your change')
    const points = grid.size * grid.size
    const leftOut = [...new Set(wanted.leftOut ?? grid.leftOut)].sort((a, b) => a - b)
    if (leftOut.some(at => at >= points))
      throw new AppError('badInput', `The grid has ${countOf(points, 'point')}; there is none ${leftOut.at(-1)}`)
    if (leftOut.length >= points) throw new AppError('badInput', 'At least one point must be left')
    const before: GridChange = { name: grid.name, keywords: grid.keywords, leftOut: grid.leftOut }
    const after: GridChange = {
      name: wanted.name ?? grid.name,
      keywords: [...new Set(wanted.keywords ?? grid.keywords)],
      leftOut,
    }
    await updateGrid(db, siteId, gridId, after)
    return {
      answer: {},
      act: {
        kind: 'changePlaceGrid',
        title: `Grid "${after.name}" changed`,
        data: { gridId, before, version: version + 1 },
      },
      changed: ['places'],
    }
  })
}

/** Removes a grid or a run; it can be undone. */
export async function removePlace(
  context: Context,
  siteId: number,
  table: 'place_grid' | 'place_run',
  id: number,
  title: string,
) {
  return doAct(context, siteId, async db => {
    if (!(await setRemoved(db, table, siteId, id, true))) throw new AppError('notFound', 'This was removed already')
    return { answer: {}, act: { kind: 'removePlace', title, data: { table, id } }, changed: ['places'] }
  })
}
