import { keepKeywords, startGathering } from '@dew-trail/contract/gather'
import { listJobs } from '@dew-trail/contract/jobs'
import { type CheckSchedule, listCheckSchedules, setCheckSchedule, setTimeZone } from '@dew-trail/contract/schedules'
import type { Site } from '@dew-trail/contract/sites'
import { listPositions, trackKeywords } from '@dew-trail/contract/track'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { scheduleWorks } from '../src/features.ts'
import { runDue } from '../src/domain/schedules/run-due.ts'
import { demoSite, type TestServer, testServer } from './test-server.ts'

let server: TestServer
let site: Site
let marketId: number
beforeAll(async () => {
  server = await testServer()
  site = await demoSite(server)
  marketId = site.markets[1]!.id
  const requests = { siteId: site.id, marketId, seeds: ['kiln'], mostIdeas: 10, ways: ['ads' as const] }
  await server.finish((await server.call(startGathering, requests)).jobs[0]!.jobId)
  const ids = (await server.rows(site.id, marketId)).rows.map(row => row.id)
  await server.call(keepKeywords, { siteId: site.id, keywordIds: ids, kept: true })
  await server.call(trackKeywords, { siteId: site.id, keywordIds: ids, tracked: true })
})
afterAll(() => server.close())

const siteId = (): number => site.id
const schedules = async (): Promise<CheckSchedule[]> =>
  (await server.call(listCheckSchedules, { siteId: siteId() })).schedules
const checks = async () =>
  (await server.call(listJobs, { siteId: siteId() })).filter(job => job.kind === 'check').map(job => job.title)
const run = (now: string): Promise<number> => runDue(server.context, scheduleWorks(), new Date(now))

test('a market is checked when its time comes, once for all times that were missed, and is told to be late then', async () => {
  await server.call(setCheckSchedule, { siteId: siteId(), marketId, rhythm: { every: 'day', hour: 6 } })
  const [set] = await schedules()
  expect(set).toMatchObject({ marketId, rhythm: { every: 'day', hour: 6 }, lastAt: null, wasLate: false })
  expect(Date.parse(set!.nextAt)).toBeGreaterThan(Date.now())
  expect(set!.nextAt.slice(11)).toBe('06:00:00.000Z')
  await server.context.pool.query("update schedule set next_at = '2027-01-10T06:00Z'")

  expect(await run('2027-01-10T05:59:59Z')).toBe(0)
  expect(await checks()).toEqual([])
  expect(await run('2027-01-10T06:00:30Z')).toBe(1)
  expect(await run('2027-01-10T06:01:30Z')).toBe(0)
  expect(await checks()).toHaveLength(1)
  expect((await checks())[0]).toContain('by its schedule')
  expect((await schedules())[0]).toMatchObject({
    nextAt: '2027-01-11T06:00:00.000Z',
    lastAt: '2027-01-10T06:00:30.000Z',
    wasLate: false,
  })
  const { jobs } = { jobs: await server.call(listJobs, { siteId: siteId() }) }
  await server.finish(jobs.find(job => job.kind === 'check')!.id)
  const other = site.markets.find(market => market.id !== marketId && market.language === site.markets[1]!.language)!
  expect((await server.call(listPositions, { siteId: siteId(), marketId })).lastDay).not.toBeNull()
  expect((await server.call(listPositions, { siteId: siteId(), marketId: other.id })).lastDay).toBeNull()

  expect(await run('2027-01-14T17:20:00Z')).toBe(1)
  expect((await schedules())[0]).toMatchObject({ nextAt: '2027-01-15T06:00:00.000Z', wasLate: true })
  expect(await checks()).toHaveLength(2)
})

test('hours are of the time zone of the site; what is no zone is refused and changes nothing', async () => {
  await server.call(setTimeZone, { siteId: siteId(), timeZone: 'Pacific/Honolulu' })
  await server.call(setCheckSchedule, { siteId: siteId(), marketId, rhythm: { every: 'week', hour: 0, weekday: 3 } })
  const at = new Date((await schedules())[0]!.nextAt)
  expect([at.getUTCDay(), at.getUTCHours()]).toEqual([3, 10])
  await server.call(setTimeZone, { siteId: siteId(), timeZone: 'UTC' })
  const moved = new Date((await schedules())[0]!.nextAt)
  expect([moved.getUTCDay(), moved.getUTCHours()]).toEqual([3, 0])
  await expect(server.call(setTimeZone, { siteId: siteId(), timeZone: 'Nowhere/Land' })).rejects.toThrow('no time zone')
  expect((await server.call(listCheckSchedules, { siteId: siteId() })).timeZone).toBe('UTC')
})

test('what cannot begin says why and comes round again; what is taken away does not', async () => {
  await server.context.pool.query("update schedule set next_at = '2027-02-01T06:00Z'")
  const failing = { check: () => Promise.reject(new Error('the engine is closed')) }
  expect(await runDue(server.context, failing, new Date('2027-02-01T07:00:00Z'))).toBe(1)
  expect((await schedules())[0]).toMatchObject({
    lastError: 'the engine is closed',
    nextAt: '2027-02-03T00:00:00.000Z',
  })
  await server.call(setCheckSchedule, { siteId: siteId(), marketId, rhythm: null })
  expect(await schedules()).toEqual([])
  expect(await run('2028-01-01T00:00:00Z')).toBe(0)
})
