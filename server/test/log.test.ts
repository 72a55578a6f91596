import { listBrands, saveBrands } from '@dew-trail/contract/brands'
import { listGatherings, startGathering } from '@dew-trail/contract/gather'
import { listJobs } from '@dew-trail/contract/jobs'
import { runImport } from '@dew-trail/contract/imports'
import { loadLog, readClickCurves, readLogState } from '@dew-trail/contract/log'
import { changeSite, createSite, listSites, type Site } from '@dew-trail/contract/sites'
import { createPage, listPages } from '@dew-trail/contract/plan'
import { listPositions, trackKeywords } from '@dew-trail/contract/track'
import { startWeighing } from '@dew-trail/contract/weigh'
import { listViews, removeView, saveView } from '@dew-trail/contract/views'
import pg from 'pg'
import { afterAll, beforeAll, describe, expect, inject, test } from 'vitest'
import { demoSite, type TestServer, testServer } from './test-server.ts'

let server: TestServer
let site: Site
let marketId: number
const property = 'domain:kilnandtide.example'
beforeAll(async () => {
  server = await testServer()
  site = await demoSite(server)
  marketId = site.markets[0]!.id
})
afterAll(() => server.close())
const rows = async () => (await server.rows(site.id, marketId)).rows

describe('the query log', () => {
  test('is loaded by weeks; its queries become keywords with impressions, clicks and place', async () => {
    const before = await server.call(readLogState, { siteId: site.id })
    expect(before.available.map(each => each.property)).toContain(property)
    expect(before.loaded).toEqual([])
    const { jobId } = await server.call(loadLog, { siteId: site.id, marketId, property, weeks: 3 })
    const job = await server.finish(jobId)
    expect(job.state, job.error ?? '').toBe('done')
    const [loaded] = (await server.call(readLogState, { siteId: site.id })).loaded
    expect(loaded).toMatchObject({ property, lastDay: '2026-11-15' })
    expect(loaded!.queries).toBeGreaterThan(20)
    const found = (await rows()).filter(row => row.cameFrom.split('|').includes('log'))
    expect(found.length).toBeGreaterThan(20)
    const seen = found.filter(row => row.logImpressions !== null)
    expect(seen.length).toBe(found.length)
    for (const row of seen) {
      expect(row.logClicks).toBeLessThanOrEqual(row.logImpressions)
      expect(row.logSearches).toBeGreaterThanOrEqual(row.logImpressions - 0.2)
      expect(row.logPosition).toBeGreaterThanOrEqual(1)
    }
    const gathering = (await server.call(listGatherings, { siteId: site.id })).find(
      each => each.id === loaded!.gatheringId,
    )
    expect(gathering).toMatchObject({ ways: ['log'], state: 'done' })
  })
  test('the same weeks again change nothing', async () => {
    const print = async () =>
      JSON.stringify((await rows()).map(row => [row.phrase, row.logImpressions, row.logClicks, row.logPosition]).sort())
    const before = await print()
    await server.finish((await server.call(loadLog, { siteId: site.id, marketId, property, weeks: 3 })).jobId)
    expect(await print()).toBe(before)
    expect((await server.call(readLogState, { siteId: site.id })).loaded).toHaveLength(1)
  })
  test('a part of the site does not count twice', async () => {
    const before = new Map((await rows()).map(row => [row.phrase, row.logImpressions]))
    await server.finish(
      (
        await server.call(loadLog, {
          siteId: site.id,
          marketId,
          property: 'https://kilnandtide.example/guides/',
          weeks: 3,
        })
      ).jobId,
    )
    for (const row of await rows())
      if (before.get(row.phrase)) expect(row.logImpressions).toBeCloseTo(before.get(row.phrase)!, 5)
  })
  test('what people search for though the ads data knows nothing is hidden demand', async () => {
    const jobs = await server.call(listJobs, { siteId: site.id })
    const requests = jobs.filter(job => job.kind === 'figures')
    expect(requests.length).toBeGreaterThan(0)
    for (const job of requests) await server.finish(job.id)
    expect((await rows()).filter(row => row.demandState === 'notAsked')).toEqual([])
    const hidden = (await rows()).filter(row => row.hidden)
    expect(hidden.length).toBeGreaterThan(0)
    for (const row of hidden) {
      expect(row.searches).toBe(row.logSearches)
      expect(row.logSearches).toBeGreaterThanOrEqual(10)
      expect(row.visitsFirst).toBeGreaterThan(0)
    }
    for (const row of await rows()) if (!row.hidden && row.demandState === 'nothing') expect(row.searches).toBeNull()
  })
  test('hidden demand has visits wherever a keyword has, and gives way to figures of a file', async () => {
    const [one] = (await rows()).filter(row => row.hidden).toSorted((a, b) => b.searches - a.searches)
    const [siteId, keywordIds] = [site.id, [one!.id as number]]
    const pageKeyword = async () =>
      (await server.call(listPages, { siteId, marketId, today: '2026-11-20' }))[0]!.keywords[0]!
    await server.finish((await server.call(startWeighing, { siteId, marketId, keywordIds })).jobId!)
    const weighed = (await rows()).find(row => row.id === one!.id)
    expect(weighed!.visits).toBeGreaterThan(0)
    await server.call(createPage, { siteId, title: 'Hidden', keywordIds })
    expect(await pageKeyword()).toMatchObject({ id: one!.id, hidden: true })
    expect((await pageKeyword()).searches).toBeCloseTo(one!.searches, 0)
    expect((await pageKeyword()).visits).toBeCloseTo(weighed!.newVisits, 0)
    await server.call(trackKeywords, { siteId, keywordIds, tracked: true })
    const { rows: tracked } = await server.call(listPositions, { siteId, marketId })
    expect(tracked.find(row => row.id === one!.id)).toMatchObject({ hidden: true })
    expect(tracked.find(row => row.id === one!.id)!.searches).toBeCloseTo(one!.searches, 0)
    const file = await server.upload(siteId, 'keywords', `keyword,searches\n${one!.phrase},70\n`)
    const { importId, suggested: mapping } = file
    await server.finish((await server.call(runImport, { siteId, importId, marketId, mapping })).jobId)
    const known = (await rows()).find(row => row.id === one!.id)
    expect(known).toMatchObject({ searches: 70, hidden: false })
    expect(await pageKeyword()).toMatchObject({ searches: 70, hidden: false })
  })
  test('click curves are fitted where the log is large enough, and never rise', async () => {
    const curves = await server.call(readClickCurves, { siteId: site.id })
    expect(curves).toHaveLength(4)
    const fitted = curves.filter(curve => curve.fittedAt !== null)
    expect(fitted.length).toBeGreaterThan(0)
    for (const curve of fitted)
      for (let i = 1; i < curve.positions.length; i++)
        expect(curve.positions[i]!.fitted!).toBeLessThanOrEqual(curve.positions[i - 1]!.fitted! + 1e-6)
  })
  test('a property that is not there fails with its name; a source that is down is said', async () => {
    const job = await server.finish(
      (await server.call(loadLog, { siteId: site.id, marketId, property: 'domain:stranger.example', weeks: 1 })).jobId,
    )
    expect(job).toMatchObject({ state: 'failed' })
    expect(job.error).toContain('stranger.example')
    const down = await testServer({ SOURCE_URL: 'http://127.0.0.1:9', SOURCE_TRIES: '1' }, server.databaseUrl)
    expect((await down.call(readLogState, { siteId: site.id })).problem).toContain('query log')
    // Where a site can be searched is for the engines to say, so none is added without them.
    const added = down.call(createSite, { domain: 'other.example', name: 'Other' })
    await expect(added).rejects.toThrow('The search engine cannot be reached')
    expect((await down.call(listSites, {})).map(each => each.domain)).toEqual([site.domain])
    await down.close()
  })
})

describe('brand words', () => {
  test('the own name is known from the start; others are entered and change the rows', async () => {
    const own = await server.call(listBrands, { siteId: site.id })
    expect(own).toEqual([
      { owner: 'kilnandtide.example', own: true, words: ['kiln tide', 'kiln and tide', 'kilnandtide'] },
    ])
    await server.finish(
      (
        await server.call(startGathering, {
          siteId: site.id,
          marketId,
          seeds: ['clay harbour'],
          ways: ['completions'],
          mostIdeas: 60,
        })
      ).jobs[0]!.jobId,
    )
    const named = async () => (await rows()).filter(row => row.phrase.includes('clay harbour'))
    expect((await named()).length).toBeGreaterThan(0)
    expect(new Set((await named()).map(row => row.brand))).toEqual(new Set(['none']))
    const saved = await server.call(saveBrands, {
      siteId: site.id,
      brands: [{ owner: 'clayharbour.example', own: false, words: ['Clay Harbour', '  clayharbour '] }],
    })
    expect(saved.brands[1]).toEqual({
      owner: 'clayharbour.example',
      own: false,
      words: ['clay harbour', 'clayharbour'],
    })
    expect(new Set((await named()).map(row => row.brand))).toEqual(new Set(['rival']))
  })
})

describe('views', () => {
  test('a view is saved once a name, for every site, and can be removed', async () => {
    const state = { where: ['searches:from:100'], sort: '-searches', columns: ['phrase', 'searches'], folded: true }
    const view = await server.call(saveView, { sheet: 'gather', name: 'Worth a look', state })
    await server.call(saveView, { sheet: 'gather', name: 'Worth a look', state: { ...state, sort: 'cpc' } })
    const views = await server.call(listViews, { sheet: 'gather' })
    expect(views).toEqual([{ ...view, state: { ...state, sort: 'cpc' } }])
    expect(await server.call(listViews, { sheet: 'weigh' })).toEqual([])
    expect(await server.call(removeView, { viewId: view.id })).toEqual({ removed: true })
    expect(await server.call(removeView, { viewId: view.id })).toEqual({ removed: false })
    await expect(server.call(saveView, { sheet: 'gather', name: ' ', state })).rejects.toMatchObject({ status: 400 })
  })
})

describe('what the months show', () => {
  test('trend, season, range and rounding come with the figures', async () => {
    const known = (await rows()).filter(row => row.demandState === 'known' && row.demandSource === 'ads')
    expect(known.length).toBeGreaterThan(40)
    for (const row of known) {
      expect(['rising', 'falling', 'steady']).toContain(row.trend)
      expect(row.season).toBeGreaterThanOrEqual(0)
      if (row.hidden) {
        expect([row.searchesLow, row.searchesHigh]).toEqual([null, null])
        continue
      }
      expect(row.searchesLow).toBeLessThanOrEqual(row.searches + 0.5)
      expect(row.searchesHigh).toBeGreaterThanOrEqual(row.searches - 0.5)
    }
    expect(known.some(row => row.rounded === 'yes')).toBe(true)
    expect(known.some(row => row.peaks)).toBe(true)
    const pair = (await rows()).filter(row => /^kilns?$/.test(row.phrase))
    if (pair.length === 2) expect(pair[0]!.family).toBe(pair[1]!.family)
    expect(inject('source')).toMatch(/^http/)
  })
})

test('searches are the mean of as many months as are chosen, for what is known and for what comes', async () => {
  const siteId = site.id
  const byAds = async () =>
    (await rows()).filter(row => row.demandSource === 'ads' && !row.hidden && row.months?.some((m: number | null) => m))
  const mean = (months: Array<number | null>): number => {
    const known = months.filter(month => month !== null)
    return known.reduce((sum, month) => sum + month, 0) / known.length
  }
  const before = await byAds()
  await server.call(changeSite, { siteId, averageMonths: 3 })
  expect((await server.call(listSites, {}))[0]!.averageMonths).toBe(3)
  const short = await byAds()
  expect(short.length).toBe(before.length)
  for (const row of short)
    expect(row.searches).toBeCloseTo(mean(row.months.filter((m: number | null) => m !== null).slice(-3)), 0)
  expect(short.some((row, i) => row.searches !== before[i]!.searches)).toBe(true)
  const seed = { siteId, marketId, seeds: ['slip trailer'], ways: ['ads' as const], mostIdeas: 30 }
  await server.finish((await server.call(startGathering, seed)).jobs[0]!.jobId)
  const fresh = (await byAds()).filter(row => !short.some(each => each.id === row.id))
  expect(fresh.length).toBeGreaterThan(0)
  for (const row of fresh)
    expect(row.searches).toBeCloseTo(mean(row.months.filter((m: number | null) => m !== null).slice(-3)), 0)
  await server.call(changeSite, { siteId, averageMonths: 12 })
  const again = new Map((await byAds()).map(row => [row.id, row.searches]))
  for (const row of before) expect(again.get(row.id)).toBeCloseTo(row.searches, 1)
  await expect(server.call(changeSite, { siteId, averageMonths: 5 as 3 })).rejects.toMatchObject({ code: 'badInput' })
})

describe('a query log from a file', () => {
  const run = async (text: string, name = 'log.csv', period?: { from: string; to: string }) => {
    const file = await server.upload(site.id, 'log', text, name)
    const { jobId } = await server.call(runImport, {
      siteId: site.id,
      importId: file.importId,
      marketId,
      mapping: file.suggested,
      ...(period ? { period } : {}),
    })
    return { file, job: await server.finish(jobId) }
  }
  test('without days its figures are those of a period, spread over the weeks, and none is lost', async () => {
    const text = 'Suchanfrage;Klicks;Impressionen;CTR;Position\nzz urne;7;901;0,8 %;12,4\nzz krug;0;1;0 %;3\n'
    await expect(run(text)).rejects.toThrow('from which day to which')
    const turned = { from: '2026-10-31', to: '2026-09-01' }
    await expect(run(text, 'log.csv', turned)).rejects.toThrow('2026-09-01 lies before 2026-10-31')
    await expect(run(text, 'log.csv', { from: '2024-01-01', to: '2026-09-01' })).rejects.toThrow('over 550 days')
    const { job } = await run(text, 'period.csv', { from: '2026-09-03', to: '2026-10-28' })
    expect(job.result).toMatchObject({ lines: 2, wrong: 0 })
    const db = new pg.Client({ connectionString: server.databaseUrl })
    await db.connect()
    const { rows: weeks } = await db.query(
      `select min(w.week)::text "from", max(w.week)::text "to", count(*)::integer weeks,
        sum(w.impressions)::integer impressions,
         sum(w.clicks)::integer clicks, max(w.position) "position" from log_week w
       join keyword k on k.site_id = w.site_id and k.id = w.keyword_id
         where k.phrase like 'zz urne' or k.phrase = 'zz krug'
       group by k.phrase order by impressions`,
    )
    await db.end()
    expect(weeks).toEqual([
      { from: expect.any(String), to: expect.any(String), weeks: 1, impressions: 1, clicks: 0, position: 3 },
      {
        from: '2026-08-31',
        to: '2026-10-26',
        weeks: 9,
        impressions: 901,
        clicks: 7,
        position: expect.closeTo(12.4, 3),
      },
    ])
  })
  test('its columns are found, days become weeks, two pages of one search are one impression', async () => {
    const { file, job } = await run(
      [
        'Day,Query,Page,Country,Device,Clicks,Impressions,Position',
        '2026-10-05,zz own glaze,https://kilnandtide.example/a,tarrow,desktop,2,40,4',
        '2026-10-05,zz own glaze,https://kilnandtide.example/b,tarrow,desktop,1,30,7',
        '2026-10-06,ZZ Own Glaze,https://kilnandtide.example/a,tarrow,mobile,0,10,6',
        '2026-10-06,zz own glaze,,atlantis,desktop,0,10,6',
        'yesterday,zz own glaze,,tarrow,desktop,0,10,6',
        '2026-10-06,,,tarrow,desktop,0,10,6',
        '2026-10-06,zz,,tarrow,desktop,x,10,6',
      ].join('\n'),
    )
    expect(file.suggested).toEqual({
      date: 0,
      phrase: 1,
      url: 2,
      country: 3,
      device: 4,
      clicks: 5,
      impressions: 6,
      position: 7,
    })
    expect(job.result).toMatchObject({ lines: 7, wrong: 3, elsewhere: 1 })
    const row = (await rows()).find(each => each.phrase === 'zz own glaze')!
    expect(row.cameFrom).toBe('log')
    // 50 impressions and 3 clicks within 91 days.
    expect(row.logImpressions).toBeGreaterThan(0)
    expect(row.logClicks / row.logImpressions).toBeCloseTo(3 / 50, 1)
    const errors = await server.raw(`/api/sites/${site.id}/imports/${file.importId}/errors.csv`)
    expect(errors.body).toContain('6,Day is not a date')
    // By page each has what it was shown.
    const db = new pg.Client({ connectionString: server.databaseUrl })
    await db.connect()
    const { rows: pages } = await db.query(
      `select a.url, l.device, l.impressions, l.clicks, l.position from log_page_week l
       join result_address a on a.site_id = l.site_id and a.id = l.page_id where l.keyword_id = $1 order by 1, 2`,
      [row.id],
    )
    await db.end()
    expect(pages).toEqual([
      { url: 'https://kilnandtide.example/a', device: 'desktop', impressions: 40, clicks: 2, position: 4 },
      { url: 'https://kilnandtide.example/a', device: 'mobile', impressions: 10, clicks: 0, position: 6 },
      { url: 'https://kilnandtide.example/b', device: 'desktop', impressions: 30, clicks: 1, position: 7 },
    ])
  })
})
