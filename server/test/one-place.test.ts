import { startGathering } from '@dew-trail/contract/gather'
import { listPositions, trackKeywords } from '@dew-trail/contract/track'
import { getFirstPage, startWeighing } from '@dew-trail/contract/weigh'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { touchKeywords } from '../src/domain/sites/queries.ts'
import { demoSite, type TestServer, testServer } from './test-server.ts'

let server: TestServer
let at: { siteId: number; marketId: number }
let keywordIds: number[]
beforeAll(async () => {
  server = await testServer()
  const site = await demoSite(server)
  at = { siteId: site.id, marketId: site.markets[0]!.id }
  const { jobs } = await server.call(startGathering, { ...at, seeds: ['pottery wheel'], mostIdeas: 20, ways: ['ads'] })
  await server.finish(jobs[0]!.jobId)
  const { rows } = await server.rows(at.siteId, at.marketId)
  keywordIds = rows
    .filter(row => row.searches !== null)
    .slice(0, 6)
    .map(row => row.id)
})
afterAll(() => server.close())

test('the place of a tracked keyword is one figure in its row, on its first page and in Track, and so are its visits', async () => {
  await server.call(trackKeywords, { siteId: at.siteId, keywordIds, tracked: true })
  await server.finish((await server.call(startWeighing, { ...at, keywordIds })).jobId!)
  const tracked = new Map((await server.call(listPositions, at)).rows.map(row => [row.id, row]))
  const standing: number[] = []
  for (const row of (await server.rows(at.siteId, at.marketId)).rows.filter(each => keywordIds.includes(each.id))) {
    const page = (await server.call(getFirstPage, { ...at, keywordId: row.id }))!
    // Weighing looks less deep than checks: a page that is not among its results may stand below them.
    if (!page.standing) {
      expect(tracked.get(row.id)!.now).toBe(0)
      continue
    }
    standing.push(row.id)
    expect([tracked.get(row.id)!.now, row.position, row.pagePosition]).toEqual(Array(3).fill(page.standing.position))
    if (row.searches !== null) expect(row.visits).toBeCloseTo(tracked.get(row.id)!.visits!, 1)
  }
  expect(standing.length).toBeGreaterThan(0)
  // A later check of the same day found it elsewhere: then the row tells of that.
  await server.context.pool.query(
    `update position_day set positions = $3, day = day + 1 where site_id = $1 and market_id = $2`,
    [at.siteId, at.marketId, Buffer.from(Int16Array.from({ length: 6 }, () => 19).buffer)],
  )
  await touchKeywords(server.context.pool, at.siteId, keywordIds)
  const moved = (await server.rows(at.siteId, at.marketId)).rows.find(row => row.id === standing[0])!
  const now = (await server.call(listPositions, at)).rows.find(row => row.id === standing[0])!
  expect([moved.position, now.now]).toEqual([19, 19])
  expect(moved.visits).toBeCloseTo(now.visits!, 1)
})
