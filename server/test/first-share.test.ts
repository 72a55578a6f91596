import { saveBrands } from '@dew-trail/contract/brands'
import { startGathering } from '@dew-trail/contract/gather'
import { readClickCurves } from '@dew-trail/contract/log'
import { changeSite, type Site } from '@dew-trail/contract/sites'
import { startWeighing } from '@dew-trail/contract/weigh'
import { clickShare } from '@dew-trail/core/demand/click-curve'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { demoSite, type TestServer, testServer } from './test-server.ts'

let server: TestServer
let site: Site
let at: { siteId: number; marketId: number }
beforeAll(async () => {
  server = await testServer()
  site = await demoSite(server)
  at = { siteId: site.id, marketId: site.markets[0]!.id }
  const { jobs } = await server.call(startGathering, { ...at, seeds: ['kiln'], mostIdeas: 40, ways: ['ads'] })
  await server.finish(jobs[0]!.jobId)
  const keywordIds = (await server.rows(at.siteId, at.marketId)).rows.slice(0, 12).map(row => row.id)
  await server.finish((await server.call(startWeighing, { ...at, keywordIds })).jobId!)
})
afterAll(() => server.close())

const set = (firstShare: number | null) => server.call(changeSite, { siteId: site.id, firstShare })
const rowsOf = async () => (await server.rows(at.siteId, at.marketId)).rows.filter(row => row.visitsFirst !== null)
const figures = async () => new Map((await rowsOf()).map(row => [row.id, [row.visitsFirst, row.visits, row.worth]]))

test('visits follow the share of clicks at the first place that the owner sets, and what the log or the default says again after', async () => {
  const [before, was] = [await rowsOf(), await figures()]
  expect(before.length).toBeGreaterThan(20)
  expect(before.filter(row => row.visits !== null).length).toBeGreaterThan(5)
  const { device } = site.markets[0]!
  const part = 0.5
  await set(clickShare(1, device) * part)
  const now = new Map((await rowsOf()).map(row => [row.id, row]))
  for (const row of before) {
    const after = now.get(row.id)!
    expect([row.clickCurve, after.clickCurve]).toEqual(['default', 'set'])
    expect(Math.abs(after.visitsFirst - part * row.visitsFirst)).toBeLessThanOrEqual(0.1)
    if (row.visits !== null) expect(Math.abs(after.visits - part * row.visits)).toBeLessThanOrEqual(0.1)
    if (row.worth !== null) expect(Math.abs(after.worth - part * row.worth)).toBeLessThanOrEqual(0.01)
  }
  await set(null)
  expect(await figures()).toEqual(was)
})

test('keywords with a brand word keep their own curve', async () => {
  const before = await figures()
  await server.call(saveBrands, { siteId: site.id, brands: [{ owner: 'Kiln House', own: false, words: ['kiln'] }] })
  await set(0.9)
  expect(await figures()).toEqual(before)
  expect((await rowsOf()).map(row => row.clickCurve)).toEqual(Array.from(before, () => 'default'))
  await set(null)
})

test('the curves tell what visits use; a share that is none is refused', async () => {
  await set(0.14)
  const curves = await server.call(readClickCurves, { siteId: site.id })
  const third = (device: 'desktop' | 'mobile', brand: boolean) =>
    curves.find(each => each.device === device && each.brand === brand)!.positions[2]!
  expect(third('desktop', false)).toMatchObject({ standard: 0.102, fitted: null })
  expect(third('desktop', false).used).toBeCloseTo(0.051, 6)
  expect(third('desktop', true).used).toBe(0.102)
  for (const wrong of [0, 1.2, -0.1]) await expect(set(wrong)).rejects.toMatchObject({ code: 'badInput' })
})
