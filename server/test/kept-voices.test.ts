import { startGathering } from '@dew-trail/contract/gather'
import { listVoiceDays, readKeptVoices, readVoices, trackKeywords } from '@dew-trail/contract/track'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { saveResults } from '../src/domain/results/save-results.ts'
import { demoSite, type TestServer, testServer } from './test-server.ts'

let server: TestServer
let at: { siteId: number; marketId: number }
let ids: number[]
const dayAgo = (ago: number): string => new Date(Date.now() - ago * 86_400_000).toISOString().slice(0, 10)
const page = (domain: string, position: number) => ({
  position,
  url: `https://${domain}/p`,
  title: domain,
  snippet: '',
})
/** Results of all keywords on a day, best first. */
const keep = (ago: number, domains: readonly string[], keywordIds: readonly number[] = ids) =>
  saveResults(
    server.context.pool,
    { ...at, source: 'engines' },
    keywordIds.map(keywordId => ({
      keywordId,
      day: dayAgo(ago),
      depth: 20,
      results: domains.map((domain, i) => page(domain, i + 1)),
    })),
  )
beforeAll(async () => {
  server = await testServer()
  const site = await demoSite(server)
  at = { siteId: site.id, marketId: site.markets[0]!.id }
  const { jobs } = await server.call(startGathering, { ...at, seeds: ['pottery wheel'], mostIdeas: 20, ways: ['ads'] })
  await server.finish(jobs[0]!.jobId)
  const { rows } = await server.rows(at.siteId, at.marketId)
  ids = rows
    .filter(row => row.searches !== null)
    .slice(0, 4)
    .map(row => row.id)
  await server.call(trackKeywords, { siteId: site.id, keywordIds: ids, tracked: true })
})
afterAll(() => server.close())

const read = async (sites: string[]) => {
  const { jobId } = await server.call(readKeptVoices, { ...at, sites })
  return server.finish(jobId)
}
const byDay = async (sites = '') => {
  const { days, sites: lines, kept } = await server.call(listVoiceDays, { ...at, sites })
  return { days, kept, of: (domain: string) => lines.find(each => each.domain === domain)?.shares }
}

test('shares of days gone by are read off the pages that are kept, and a site that is added later has its history', async () => {
  await keep(70, ['early.example', 'clay.example'])
  await keep(12, ['clay.example', 'kilnandtide.example', 'late.example'])
  // One keyword of four: the others are taken to be what they were.
  await keep(10, ['late.example', 'clay.example'], ids.slice(0, 1))
  await keep(0, ['kilnandtide.example', 'clay.example', 'late.example'])
  expect((await byDay()).days).toEqual([])
  expect((await byDay()).kept).toBe(`${dayAgo(70).slice(0, 7)}-01`)
  expect(await read([])).toMatchObject({ state: 'done', result: { days: 4 }, total: 4, done: 4 })
  const first = await byDay()
  expect(first.days).toEqual([70, 12, 10, 0].map(dayAgo))
  // Today's are those that are told from the latest results.
  const { sites } = await server.call(readVoices, at)
  for (const { domain, share } of sites) expect(first.of(domain)!.at(-1)).toBeCloseTo(share, 5)
  const [top, second, third] = sites.map(each => each.share) as [number, number, number]
  // Then the same places gave the same visits.
  expect(first.of('clay.example')!.map(share => share!)).toEqual([
    expect.closeTo(second / (top + second), 5),
    expect.closeTo(top, 5),
    expect.any(Number),
    expect.closeTo(second, 5),
  ])
  expect(first.of('kilnandtide.example')!.slice(0, 2)).toEqual([0, expect.closeTo(second, 5)])
  // Of a day read before only sites with most are noted: one that was nowhere near is unknown until it is asked for, then it had none.
  expect((await byDay('elsewhere.example')).of('elsewhere.example')).toBeUndefined()
  await read(['elsewhere.example', 'blog.late.example'])
  const later = await byDay('elsewhere.example,late.example')
  expect(later.of('elsewhere.example')).toEqual([0, 0, 0, 0])
  expect(later.of('late.example')!.map(share => share!)).toEqual([
    0,
    expect.closeTo(third, 5),
    expect.any(Number),
    expect.closeTo(third, 5),
  ])
  expect(later.of('late.example')![2]!).toBeGreaterThan(third)
  expect(first.of('clay.example')).toEqual(later.of('clay.example'))
})

test('what checks noted of a day stays', async () => {
  await server.context.pool.query('update voice_day set share = 0.5 where site_id = $1 and domain = $2', [
    at.siteId,
    'clay.example',
  ])
  await read(['clay.example'])
  expect((await byDay()).of('clay.example')!.every(share => share === 0.5)).toBe(true)
})
