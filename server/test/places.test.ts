import {
  changePlaceGrid,
  createPlaceGrid,
  listDoubtfulListings,
  listPlaceGrids,
  listPlaceSums,
  listTowns,
  readPlaceRun,
  readTown,
  removePlaceGrid,
  removePlaceRun,
  setPlaceSchedule,
  startPlaceRun,
} from '@dew-trail/contract/places'
import { undoAct } from '@dew-trail/contract/acts'
import { actOnJob, getJob } from '@dew-trail/contract/jobs'
import type { Site } from '@dew-trail/contract/sites'
import { gridPoints } from '@dew-trail/core/places/grid-points'
import pg from 'pg'
import { afterAll, beforeAll, describe, expect, inject, test } from 'vitest'
import { demoSite, type TestServer, testServer } from './test-server.ts'

let server: TestServer
let site: Site
const lindle = 'lindle'
let studio: { id: string; name: string; latitude: number; longitude: number }

beforeAll(async () => {
  server = await testServer()
  site = await demoSite(server)
  const { businesses } = await server.call(readTown, { siteId: site.id, town: lindle })
  studio = businesses[0]!
})
afterAll(() => server.close())

const gridOf = (more: object = {}) => ({
  siteId: site.id,
  town: lindle,
  engine: 'lantern',
  language: 'en',
  keywords: ['pottery class'],
  businesses: [studio.id],
  latitude: studio.latitude,
  longitude: studio.longitude,
  size: 5,
  spacing: 400,
  ...more,
})
const grid = async (gridId: number) =>
  (await server.call(listPlaceGrids, { siteId: site.id })).grids.find(each => each.id === gridId)
/** The stand-in's own local results at a point, which are the truth. */
async function truth(phrase: string, point: { latitude: number; longitude: number }, day?: string): Promise<string[]> {
  const query = new URLSearchParams({
    q: phrase,
    language: 'en',
    near: `${point.latitude},${point.longitude}`,
    num: '20',
  })
  if (day) query.set('date', day)
  const reply = await fetch(`${inject('source')}/engines/lantern/local?${query}`, {
    headers: { authorization: 'Bearer demo-key' },
  })
  return ((await reply.json()) as { results: Array<{ id: string }> }).results.map(each => each.id)
}

const until = async (test: () => Promise<boolean>): Promise<void> => {
  while (!(await test())) await new Promise(resolve => setTimeout(resolve, 15))
}

describe('towns', () => {
  test('those with a map, with streets, coast and businesses; the own ones first', async () => {
    const towns = await server.call(listTowns, { siteId: site.id })
    expect(towns.map(each => each.code)).toContain(lindle)
    const { map, businesses } = await server.call(readTown, { siteId: site.id, town: lindle })
    expect(map.sea).toHaveLength(1)
    expect(map.lines.filter(each => each.kind === 'coast')).toHaveLength(1)
    expect(map.lines.filter(each => each.kind !== 'coast').every(each => each.name !== null)).toBe(true)
    // Latitude first: the town lies near 47° north.
    expect(Math.round(map.lines[0]!.line[0]![0])).toBe(Math.round(studio.latitude))
    expect(businesses[0]).toMatchObject({ own: true, openedOn: expect.stringMatching(/^20\d\d-/) })
    await expect(server.call(readTown, { siteId: site.id, town: 'nowhere' })).rejects.toMatchObject({
      code: 'notFound',
    })
  })
  test('doubtful listings have reasons, and chains and shared buildings are none', async () => {
    const { looked, rows } = await server.call(listDoubtfulListings, { siteId: site.id, town: lindle })
    expect(rows.length).toBeGreaterThan(1)
    expect(looked).toBeGreaterThan(rows.length * 3)
    expect(rows.every(each => each.weight >= 2 && each.reasons.length > 0)).toBe(true)
    expect(rows.some(each => each.name.startsWith('Glazeworks') || each.own)).toBe(false)
    expect(rows.map(each => each.weight)).toEqual(rows.map(each => each.weight).toSorted((a, b) => b - a))
  })
})

describe('a run', () => {
  let gridId: number
  let runId: number
  test('asks at every point, and positions are the truth', async () => {
    gridId = (await server.call(createPlaceGrid, gridOf())).gridId
    const run = await server.call(startPlaceRun, { siteId: site.id, gridId })
    expect(run.requests).toBe(25)
    runId = run.runId
    await expect(server.call(startPlaceRun, { siteId: site.id, gridId })).rejects.toThrow('under way')
    expect(await server.finish(run.jobId)).toMatchObject({
      state: 'done',
      warnings: [],
      result: { checked: 25, failed: 0 },
    })
    const { points, businesses, keyword } = await server.call(readPlaceRun, { siteId: site.id, runId })
    expect(keyword).toBe('pottery class')
    const name = new Map(businesses.map(each => [each.number, each.id]))
    const found = points.map(listed => listed!.map(each => name.get(each)!))
    for (const [at, point] of gridPoints(studio, 5, 400).entries())
      expect(found[at]).toEqual(await truth(keyword, point))
    expect(businesses.find(each => each.id === studio.id)).toMatchObject({ own: true, rival: false, name: studio.name })
  })
  test('is told with its figures; not found counts as one below the last', async () => {
    const { points, businesses } = await server.call(readPlaceRun, { siteId: site.id, runId })
    const own = businesses.find(each => each.id === studio.id)!.number
    const ranks = points.map(listed => listed!.indexOf(own) + 1)
    const sums = await server.call(listPlaceSums, { siteId: site.id, gridId })
    expect(sums.find(each => each.business === own)).toMatchObject({
      runId,
      keyword: 'pottery class',
      own: true,
      checked: 25,
      mean: ranks.reduce((sum, rank) => sum + (rank || 21), 0) / 25,
      first3: ranks.filter(rank => rank >= 1 && rank <= 3).length,
      found: ranks.filter(rank => rank > 0).length,
    })
    expect(sums.filter(each => !each.own)).toHaveLength(5)
    expect(await grid(gridId)).toMatchObject({
      size: 5,
      businesses: [{ id: studio.id, name: studio.name }],
      runs: [{ id: runId, wanted: 25, checked: 25 }],
    })
  })
  test('of a past day asks for that day', async () => {
    const day = new Date(Date.now() - 40 * 86_400_000).toISOString().slice(0, 10)
    const past = await server.call(startPlaceRun, { siteId: site.id, gridId, day })
    await server.finish(past.jobId)
    const { points, businesses, day: said } = await server.call(readPlaceRun, { siteId: site.id, runId: past.runId })
    expect(said).toBe(day)
    const name = new Map(businesses.map(each => [each.number, each.id]))
    const [corner] = gridPoints(studio, 5, 400)
    expect(points[0]!.map(each => name.get(each)!)).toEqual(await truth('pottery class', corner!, day))
    const future = server.call(startPlaceRun, { siteId: site.id, gridId, day: '2099-01-01' })
    await expect(future).rejects.toThrow('2099-01-01 is still to come')
  })
  test('leaves out what was left out by hand, in the runs after that alone', async () => {
    const leftOut = [0, 4, 24]
    const { actId } = await server.call(changePlaceGrid, { siteId: site.id, gridId, version: 1, leftOut })
    const stale = server.call(changePlaceGrid, { siteId: site.id, gridId, version: 1, name: 'x' })
    await expect(stale).rejects.toMatchObject({ code: 'conflict' })
    const run = await server.call(startPlaceRun, { siteId: site.id, gridId })
    expect(run.requests).toBe(22)
    await server.finish(run.jobId)
    const later = await server.call(readPlaceRun, { siteId: site.id, runId: run.runId })
    expect([later.leftOut, later.points[0], later.points[4]]).toEqual([leftOut, null, null])
    expect((await server.call(readPlaceRun, { siteId: site.id, runId })).leftOut).toEqual([])
    await server.call(undoAct, { siteId: site.id, actId: actId! })
    expect((await grid(gridId))!.leftOut).toEqual([])
    const all = server.call(changePlaceGrid, { siteId: site.id, gridId, version: 3, leftOut: [...Array(25).keys()] })
    await expect(all).rejects.toThrow('At least one point must be left')
  })
  test('and its grid are removed, and come back', async () => {
    const { actId } = await server.call(removePlaceRun, { siteId: site.id, runId })
    expect((await grid(gridId))!.runs.map(each => each.id)).not.toContain(runId)
    await expect(server.call(readPlaceRun, { siteId: site.id, runId })).rejects.toThrow('This run was removed')
    await server.call(undoAct, { siteId: site.id, actId: actId! })
    expect((await grid(gridId))!.runs.map(each => each.id)).toContain(runId)
    const gone = await server.call(removePlaceGrid, { siteId: site.id, gridId })
    expect(await grid(gridId)).toBeUndefined()
    await server.call(undoAct, { siteId: site.id, actId: gone.actId! })
    expect((await grid(gridId))!.runs).toHaveLength(3)
  })
})

test('several businesses of one owner are all their own', async () => {
  const { businesses } = await server.call(readTown, { siteId: site.id, town: lindle })
  const other = businesses.find(each => !each.own)!
  const { gridId } = await server.call(createPlaceGrid, gridOf({ businesses: [studio.id, other.id], size: 3 }))
  const run = await server.call(startPlaceRun, { siteId: site.id, gridId })
  await server.finish(run.jobId)
  const { businesses: listed } = await server.call(readPlaceRun, { siteId: site.id, runId: run.runId })
  expect(
    listed
      .filter(each => each.own)
      .map(each => each.id)
      .toSorted(),
  ).toEqual([studio.id, other.id].toSorted())
})

describe('what goes wrong', () => {
  test('a grid of what there is not is refused with the reason', async () => {
    const make = (more: object) => server.call(createPlaceGrid, gridOf(more))
    await expect(make({ town: 'atlantis' })).rejects.toThrow('There is no map of a town "atlantis"')
    await expect(make({ businesses: ['b77'] })).rejects.toThrow('Lindle has no business "b77" on its map')
    await expect(make({ engine: 'torch' })).rejects.toThrow('There is no engine "torch"')
    await expect(make({ size: 4 })).rejects.toThrow('must be odd')
    await expect(make({ spacing: 5 })).rejects.toMatchObject({ code: 'badInput' })
    await expect(make({ keywords: [] })).rejects.toMatchObject({ code: 'badInput' })
  })
  test('a point whose request fails was not checked; asked again, only what is missing is asked', async () => {
    const { gridId } = await server.call(createPlaceGrid, gridOf({ keywords: ['pottery class', 'kiln hire'], size: 3 }))
    const run = await server.call(startPlaceRun, { siteId: site.id, gridId })
    await server.finish(run.jobId)
    const db = new pg.Client({ connectionString: server.databaseUrl })
    await db.connect()
    await db.query('delete from place_point where run_id = $1 and keyword = 1 and point < 4', [run.runId])
    await db.end()
    const { points } = await server.call(readPlaceRun, { siteId: site.id, runId: run.runId, keyword: 1 })
    expect(points.map(each => each === null)).toEqual([true, true, true, true, false, false, false, false, false])
    expect((await grid(gridId))!.runs[0]).toMatchObject({ wanted: 18, checked: 14 })
    const again = await server.call(startPlaceRun, { siteId: site.id, gridId, runId: run.runId })
    expect(again).toMatchObject({ runId: run.runId, requests: 4 })
    await server.finish(again.jobId)
    expect((await grid(gridId))!.runs).toMatchObject([{ wanted: 18, checked: 18 }])
    const full = server.call(startPlaceRun, { siteId: site.id, gridId, runId: run.runId })
    await expect(full).rejects.toThrow('This run has all its points')
  })
  test('a paused run keeps what it has and goes on', async () => {
    const { gridId } = await server.call(createPlaceGrid, gridOf({ size: 21, spacing: 150 }))
    const run = await server.call(startPlaceRun, { siteId: site.id, gridId })
    await server.call(actOnJob, { jobId: run.jobId, action: 'pause' })
    await until(async () => (await server.call(getJob, { jobId: run.jobId })).state === 'paused')
    expect((await grid(gridId))!.runs[0]!.checked).toBeLessThan(441)
    await server.call(actOnJob, { jobId: run.jobId, action: 'resume' })
    expect(await server.finish(run.jobId)).toMatchObject({ state: 'done' })
    expect((await grid(gridId))!.runs[0]).toMatchObject({ wanted: 441, checked: 441 })
  })
  test('a schedule is kept with its grid', async () => {
    const { gridId } = await server.call(createPlaceGrid, gridOf({ size: 3 }))
    const rhythm = { every: 'week', hour: 6, weekday: 1 } as const
    await server.call(setPlaceSchedule, { siteId: site.id, gridId, rhythm })
    expect((await grid(gridId))!.schedule).toMatchObject({ rhythm, lastAt: null })
    await server.call(setPlaceSchedule, { siteId: site.id, gridId, rhythm: null })
    expect((await grid(gridId))!.schedule).toBeNull()
  })
})
