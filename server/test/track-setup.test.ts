import { undoAct } from '@dew-trail/contract/acts'
import { keepKeywords, startGathering } from '@dew-trail/contract/gather'
import { listLists } from '@dew-trail/contract/lists'
import { createPage } from '@dew-trail/contract/plan'
import { listCheckSchedules } from '@dew-trail/contract/schedules'
import { addMarket, createSite, listSites, type Site } from '@dew-trail/contract/sites'
import { checkNow, listCandidates, listPositions, startTracking } from '@dew-trail/contract/track'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { demoSite, type TestServer, testServer } from './test-server.ts'

let server: TestServer
let site: Site
let ids: number[]
let at: { siteId: number; marketId: number }
beforeAll(async () => {
  server = await testServer()
  site = await demoSite(server)
  at = { siteId: site.id, marketId: site.markets[0]!.id }
  const { jobs } = await server.call(startGathering, { ...at, seeds: ['pottery wheel'], mostIdeas: 12, ways: ['ads'] })
  await server.finish(jobs[0]!.jobId)
  ids = (await server.rows(at.siteId, at.marketId)).rows.map(row => row.id)
})
afterAll(() => server.close())

const candidates = (from: 'log' | 'plan' | 'themes' | 'kept' | 'rival', of?: string) =>
  server.call(listCandidates, { ...at, from, ...(of ? { of } : {}) })
const phrasesIn = async (marketId: number): Promise<string[]> =>
  (await server.call(listPositions, { siteId: site.id, marketId })).rows.map(row => row.phrase).sort()

describe('candidates', () => {
  test('are kept keywords and those of the plan, most searched first, and tell which are tracked', async () => {
    expect(await candidates('kept')).toEqual({ all: 0, keywords: [] })
    await server.call(keepKeywords, { siteId: site.id, keywordIds: ids.slice(0, 5), kept: true })
    const kept = await candidates('kept')
    expect(kept.all).toBe(5)
    const searches = kept.keywords.map(each => each.searches ?? -1)
    expect(searches).toEqual(searches.toSorted((a, b) => b - a))
    await server.call(createPage, { siteId: site.id, title: 'Wheels', keywordIds: ids.slice(5, 7) })
    expect((await candidates('plan')).all).toBe(2)
    expect(await candidates('themes')).toEqual({ all: 0, keywords: [] })
    expect(await candidates('log')).toEqual({ all: 0, keywords: [] })
  })
  test('of a rival need its name, and a name only they', async () => {
    await expect(candidates('rival')).rejects.toThrow('name the site')
    await expect(candidates('kept', 'clay.example')).rejects.toThrow('only with from=rival')
    expect(await candidates('rival', 'nobody.example')).toEqual({ all: 0, keywords: [] })
  })
})

describe('tracking', () => {
  test('is in chosen markets, with a label and a rhythm, and is undone', async () => {
    const [one, two, three] = site.markets.map(market => market.id)
    const done = await server.call(startTracking, {
      siteId: site.id,
      marketIds: [one!, two!],
      phrases: ['Kick Wheel ', 'kick  wheel', 'an unheard of thing'],
      label: 'Wheels',
      rhythm: { every: 'day', hour: 6 },
    })
    expect(done).toMatchObject({ tracked: 2, made: 2 })
    expect(await phrasesIn(one!)).toEqual(['an unheard of thing', 'kick wheel'])
    expect(await phrasesIn(two!)).toEqual(['an unheard of thing', 'kick wheel'])
    expect(await phrasesIn(three!)).toEqual([])
    expect(await server.call(listLists, { siteId: site.id })).toMatchObject([
      { kind: 'label', name: 'Wheels', keywords: 2 },
    ])
    const { schedules } = await server.call(listCheckSchedules, { siteId: site.id })
    expect(schedules.map(each => each.marketId).sort()).toEqual([one, two])
    const { requests, jobId } = await server.call(checkNow, { siteId: site.id })
    expect(requests).toBe(4)
    await server.finish(jobId)
    await server.call(undoAct, { siteId: site.id, actId: done.actId! })
    expect(await phrasesIn(one!)).toEqual([])
  })
  test('adds markets to those there are; in all of the language it is everywhere', async () => {
    const [one, two] = site.markets.map(market => market.id)
    const track = (marketIds: number[]) =>
      server.call(startTracking, { siteId: site.id, marketIds, phrases: ['pinch pot'] })
    expect(await track([one!])).toMatchObject({ tracked: 1, made: 1 })
    expect(await track([one!])).toMatchObject({ tracked: 0, made: 0, actId: null })
    expect(await track([two!])).toMatchObject({ tracked: 1 })
    expect(await phrasesIn(one!)).toEqual(['pinch pot'])
    const english = site.markets.filter(market => market.language === 'en').map(market => market.id)
    await track(english)
    const { rows } = await server.context.pool.query('select market_ids from tracked_keyword where active')
    expect(rows).toEqual([{ market_ids: null }])
  })
  test('markets of another site or of several languages are refused, and nothing is tracked', async () => {
    const other = await server.call(createSite, { domain: 'clay.example', name: 'Clay' })
    const phrases = ['slip casting']
    await expect(
      server.call(startTracking, { siteId: site.id, marketIds: [other.markets[0]!.id + 90], phrases }),
    ).rejects.toThrow('no market')
    await server.call(addMarket, {
      siteId: site.id,
      engine: 'lantern',
      place: 'verlau',
      language: 'de',
      device: 'desktop',
    })
    const markets = (await server.call(listSites, {})).find(each => each.id === site.id)!.markets
    const mixed = [markets.find(each => each.language === 'en')!.id, markets.find(each => each.language === 'de')!.id]
    await expect(server.call(startTracking, { siteId: site.id, marketIds: mixed, phrases })).rejects.toThrow(
      'several languages',
    )
    // A keyword of one language is no row of a market of another.
    expect(await phrasesIn(mixed[1]!)).toEqual([])
  })
})
