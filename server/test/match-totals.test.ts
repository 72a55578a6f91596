import { askFigures, startGathering } from '@dew-trail/contract/gather'
import { runImport, takeBackImport, type Uploaded } from '@dew-trail/contract/imports'
import { listPages, createPage } from '@dew-trail/contract/plan'
import type { Site } from '@dew-trail/contract/sites'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { settleAllMatches } from '../src/domain/keywords/match-totals.ts'
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

const importKeywords = async (text: string): Promise<number> => {
  const file = (await server.upload(site.id, 'keywords', text)) as Uploaded
  const { jobId } = await server.call(runImport, {
    siteId: site.id,
    importId: file.importId,
    marketId,
    mapping: file.suggested,
  })
  await server.finish(jobId)
  return file.importId
}
const rows = async () => (await server.rows(site.id, marketId)).rows
const matchOf = async (phrase: string) => {
  const row = (await rows()).find(each => each.phrase === phrase)!
  const { matchExact, matchOrder, matchAny, orderShare, matchFrom } = row
  return { matchExact, matchOrder, matchAny, orderShare, matchFrom }
}
const none = { matchExact: null, matchOrder: null, matchAny: null, orderShare: null, matchFrom: null }

describe('searches by match', () => {
  test('are summed over the keywords of a file, and again when another file comes', async () => {
    await importKeywords(
      'keyword,volume\nzig zag bowl,90\nbig zig zag bowl,10\nbowl with zig zag,5\nlone phrase here,7\n',
    )
    expect(await matchOf('zig zag bowl')).toEqual({
      matchExact: 90,
      matchOrder: 100,
      matchAny: 105,
      orderShare: 0.9524,
      matchFrom: 'body',
    })
    // Nobody else holds its words: that it is said so and not otherwise is not known.
    expect(await matchOf('lone phrase here')).toEqual(none)
    const second = await importKeywords('keyword,volume\nzig zag bowl set,200\n')
    expect(await matchOf('zig zag bowl')).toMatchObject({ matchOrder: 300, matchAny: 305 })
    await server.call(takeBackImport, { siteId: site.id, importId: second, on: true })
  })

  test('are told by the ads data where it tells them, in place of sums', async () => {
    const { jobs } = await server.call(startGathering, { siteId: site.id, marketId, seeds: ['pottery wheel'] })
    await server.finish(jobs[0]!.jobId)
    const told = (await rows()).filter(row => row.matchFrom === 'ads')
    expect(told.length).toBeGreaterThan(50)
    for (const row of told) {
      expect(row.matchExact).toBeLessThanOrEqual(row.matchOrder)
      expect(row.matchOrder).toBeLessThanOrEqual(row.matchAny)
    }
    const wheel = told.find(row => row.phrase === 'pottery wheel')!
    expect(wheel.matchOrder).toBeGreaterThan(wheel.matchExact)
    expect(wheel.orderShare).toBeCloseTo(wheel.matchOrder / wheel.matchAny, 3)
    // People say "pottery wheel", not the other way round, though the ads data has one figure for both.
    await importKeywords('keyword\nwheel pottery\n')
    const { id } = (await rows()).find(row => row.phrase === 'wheel pottery')!
    const { jobId } = await server.call(askFigures, { siteId: site.id, marketId, keywordIds: [id] })
    await server.finish(jobId!)
    const turned = (await rows()).find(row => row.phrase === 'wheel pottery')!
    expect(turned.orderShare === null || turned.orderShare < 0.2).toBe(true)
  })

  test('what is summed at night stays what it was where nothing is new, and goes to the plan', async () => {
    const before = await rows()
    await settleAllMatches(server.context)
    expect(await rows()).toEqual(before)
    const row = before.find(each => each.phrase === 'zig zag bowl')!
    await server.call(createPage, { siteId: site.id, title: 'Bowls', keywordIds: [row.id] })
    const [page] = await server.call(listPages, { siteId: site.id, marketId, today: '2026-11-01' })
    expect(page!.keywords[0]).toMatchObject({
      match: { exact: 90, inOrder: row.matchOrder, anyOrder: row.matchAny },
      cpc: null,
    })
  })
})
