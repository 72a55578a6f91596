import { startGathering } from '@dew-trail/contract/gather'
import { listSites, type Site } from '@dew-trail/contract/sites'
import { getFirstPage, getStrengths, learnStrengths, startWeighing } from '@dew-trail/contract/weigh'
import { pagesToLearn } from '@dew-trail/core/results/learn-strength'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { demoSite, type TestServer, testServer } from './test-server.ts'

let server: TestServer
let site: Site
let marketId: number
beforeAll(async () => {
  server = await testServer()
  site = await demoSite(server)
  marketId = site.markets[0]!.id
})
afterAll(() => server.close())

const gather = async (seeds: string[], mostIdeas = 100): Promise<void> => {
  const { jobs } = await server.call(startGathering, {
    siteId: site.id,
    marketId,
    seeds,
    mostIdeas,
    ways: ['ads'],
  })
  for (const { jobId } of jobs) expect((await server.finish(jobId)).state).toBe('done')
}
const learn = async () => {
  const { jobId } = await server.call(learnStrengths, { siteId: site.id, marketId })
  return server.finish(jobId)
}
const ofMarket = async () =>
  (await server.call(getStrengths, { siteId: site.id })).find(each => each.marketId === marketId)!

test('with too few keywords the default weights stay, and the answer says what was there', async () => {
  await gather(['raku kiln'], 40)
  const { rows } = await server.rows(site.id, marketId)
  expect(rows.length).toBeLessThan(pagesToLearn)
  const job = await learn()
  expect(job).toMatchObject({ state: 'done', result: { learnt: false, pages: rows.length, judged: 0 } })
  expect(await ofMarket()).toMatchObject({ learnt: false, pages: rows.length, needed: pagesToLearn, report: null })
})

test('enough result pages give strengths, by which what was weighed is judged anew', async () => {
  await gather(['pottery wheel', 'glaze', 'clay'])
  const { rows } = await server.rows(site.id, marketId)
  const ids = rows.slice(0, 5).map(row => row.id)
  const weighing = await server.call(startWeighing, { siteId: site.id, marketId, keywordIds: ids })
  await server.finish(weighing.jobId!)
  const before = (await server.call(getFirstPage, { siteId: site.id, keywordId: ids[0]!, marketId }))!
  expect(before.model).toBe('default weights')

  const job = await learn()
  expect(job).toMatchObject({ state: 'done', result: { learnt: true, judged: 5 } })
  const known = await ofMarket()
  expect(known).toMatchObject({ learnt: true, weighedSince: 5 })
  expect(known.pages).toBeGreaterThanOrEqual(pagesToLearn)
  expect(known.report!.pairAccuracy).toBeGreaterThan(0.6)
  expect(known.report!.pairAccuracy).toBeLessThanOrEqual(1)
  for (const { y } of Object.values(known.curves))
    for (let i = 1; i < y.length; i++) expect(y[i]).toBeGreaterThanOrEqual(y[i - 1]!)

  const after = (await server.call(getFirstPage, { siteId: site.id, keywordId: ids[0]!, marketId }))!
  expect(after.model).toBe('learnt strengths')
  // What results showed at near keywords is known of some, and of none by the default weights.
  const near = (page: typeof after): number[] =>
    page.results.flatMap(result => result.parts.filter(part => part.feature === 'near').map(part => part.adds))
  expect(near(before)).toEqual([])
  expect(near(after).some(adds => adds !== 0)).toBe(true)
  for (const { strength, parts } of after.results)
    expect(strength).toBeCloseTo(parts.reduce((sum, part) => sum + part.adds, 0))
  const row = (await server.rows(site.id, marketId)).rows.find(each => each.id === ids[0])!
  expect(Math.abs(row.difficulty - after.difficulty!)).toBeLessThan(0.06)
  expect(row.chance).toBeCloseTo(after.chances!['10']!, 3)
  // Levels of the site are told by the same strengths.
  const [own] = await server.call(listSites, {})
  expect(own!.comfortable).not.toBe(site.comfortable)
})

test('other engines and devices keep their own; a market that is not there is refused', async () => {
  const all = await server.call(getStrengths, { siteId: site.id })
  expect(all).toHaveLength(4)
  expect(all.filter(each => each.learnt).map(each => each.marketId)).toEqual([marketId])
  await expect(server.call(learnStrengths, { siteId: site.id, marketId: 99_999 })).rejects.toThrow('no market')
})
