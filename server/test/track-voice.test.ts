import { startGathering } from '@dew-trail/contract/gather'
import { createGrouping } from '@dew-trail/contract/group'
import { addList, changeList } from '@dew-trail/contract/lists'
import { createPage } from '@dew-trail/contract/plan'
import { createSite, type Site } from '@dew-trail/contract/sites'
import {
  checkNow,
  listGlances,
  listVoiceDays,
  listPositions,
  readKeptResults,
  readVoices,
  resultHistory,
  trackKeywords,
} from '@dew-trail/contract/track'
import pg from 'pg'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { demoSite, type TestServer, testServer } from './test-server.ts'

let server: TestServer
let site: Site
let at: { siteId: number; marketId: number }
let ids: number[]
let db: pg.Client
beforeAll(async () => {
  server = await testServer()
  site = await demoSite(server)
  at = { siteId: site.id, marketId: site.markets[0]!.id }
  db = new pg.Client({ connectionString: server.databaseUrl })
  await db.connect()
  const { jobs } = await server.call(startGathering, { ...at, seeds: ['pottery wheel'], mostIdeas: 40, ways: ['ads'] })
  await server.finish(jobs[0]!.jobId)
  const { rows } = await server.rows(at.siteId, at.marketId)
  ids = rows
    .filter(row => row.searches !== null)
    .slice(0, 8)
    .map(row => row.id)
  await server.call(trackKeywords, { siteId: site.id, keywordIds: ids, tracked: true })
})
afterAll(async () => {
  await db.end()
  await server.close()
})

test('before any check nothing is said, and every tracked keyword is counted as left out', async () => {
  expect(await server.call(readVoices, at)).toEqual({
    keywords: 0,
    left: 8,
    compared: 0,
    from: null,
    to: null,
    sites: [],
    themes: [],
    labels: [],
  })
  expect(await server.call(listVoiceDays, at)).toEqual({ kept: null, days: [], sites: [] })
  const [glance] = await server.call(listGlances, {})
  expect(glance).toMatchObject({
    siteId: site.id,
    tracked: 8,
    day: null,
    visibility: null,
    look: ['Its keywords were never checked'],
  })
})

test('share of voice is read off the results of a check: parts of all visits, over the keywords checked', async () => {
  const { jobId } = await server.call(checkNow, { siteId: site.id })
  await server.finish(jobId)
  const voices = await server.call(readVoices, at)
  expect([voices.keywords, voices.left, voices.compared]).toEqual([8, 0, 0])
  expect(voices.from).toBe(voices.to)
  expect(voices.sites.length).toBeGreaterThan(5)
  for (const [i, voice] of voices.sites.entries()) {
    expect(voice.share).toBeLessThanOrEqual(voices.sites[Math.max(0, i - 1)]!.share)
    expect(voice.change).toBeNull()
    expect(voice.within3).toBeLessThanOrEqual(voice.within10)
    expect(voice.within20).toBeLessThanOrEqual(8)
  }
  expect(voices.sites.reduce((sum, voice) => sum + voice.share, 0)).toBeLessThanOrEqual(1 + 1e-9)
  // The own site is told by the same positions and the same rule for visits as its row.
  const own = voices.sites.find(voice => voice.own)
  const { rows } = await server.call(listPositions, { ...at, compareDays: 7 })
  const within = (most: number) => rows.filter(row => row.now > 0 && row.now <= most).length
  expect([own?.within3 ?? 0, own?.within10 ?? 0, own?.within20 ?? 0]).toEqual([within(3), within(10), within(20)])
})

test('each check notes the shares of its day; by day they are those of the own site and of who leads now', async () => {
  const { sites, to } = await server.call(readVoices, at)
  const first = await server.call(listVoiceDays, at)
  expect(first.days).toEqual([to])
  expect(first.sites[0]).toMatchObject({ domain: site.domain, own: true })
  const told = (shares: Array<{ domain: string; shares: Array<number | null> }>) =>
    shares.map(each => [each.domain, each.shares.at(-1)])
  const expected = [
    ...sites.filter(each => each.own),
    ...sites.filter(each => !each.own).slice(0, sites.some(each => each.own) ? 5 : 6),
  ].map(each => [each.domain, Math.fround(each.share)])
  expect(told(first.sites)).toEqual(expected.map(([domain, share]) => [domain, expect.closeTo(share as number, 5)]))
  // Another check of the day says it anew; one of another day comes beside it, and who was not there then is unknown.
  const leader = first.sites.find(each => !each.own)!.domain
  await db.query(
    `insert into voice_day (site_id, market_id, day, domain, visits, share)
     select site_id, market_id, day - 1, domain, visits, share / 2 from voice_day where site_id = $1 and domain <> $2`,
    [site.id, leader],
  )
  const { jobId } = await server.call(checkNow, { siteId: site.id })
  await server.finish(jobId)
  const second = await server.call(listVoiceDays, at)
  expect(second.days).toHaveLength(2)
  expect(second.sites.find(each => each.domain === leader)!.shares[0]).toBeNull()
  const own = second.sites[0]!.shares
  expect(own[0]! * 2).toBeCloseTo(own[1]!, 5)
})

test('by label it says the own share and who leads, as over those keywords alone', async () => {
  const list = await server.call(addList, { siteId: site.id, kind: 'label', name: 'wheels' })
  await server.call(changeList, { siteId: site.id, listId: list.id, keywordIds: ids.slice(0, 3), on: true })
  const { labels, sites } = await server.call(readVoices, at)
  expect(labels).toHaveLength(1)
  expect(labels[0]).toMatchObject({ name: 'wheels', keywords: 3 })
  expect(labels[0]!.visits).toBeLessThan(sites.reduce((sum, each) => sum + each.visits, 0) * 1.5)
  expect(labels[0]!.leaderShare).toBeGreaterThanOrEqual(labels[0]!.own)
})

test('changes are over the keywords of which earlier results are known', async () => {
  const leader = (await server.call(readVoices, at)).sites[0]!
  // Of one keyword the results before are known, in which the leader was not.
  await db.query(
    `update result_head set before_day = day - 7, before_depth = depth, before_results = results
     where site_id = $1 and market_id = $2 and keyword_id = $3`,
    [site.id, at.marketId, ids[0]],
  )
  await db.query(
    `update result_row r set before = case when s.domain = $4 then null else r.now end from result_site s
     where r.site_id = $1 and r.market_id = $2 and r.keyword_id = $3 and s.site_id = $1 and s.id = r.on_site`,
    [site.id, at.marketId, ids[0], leader.domain],
  )
  const voices = await server.call(readVoices, at)
  expect(voices.compared).toBe(1)
  const before = voices.sites.find(voice => voice.domain === leader.domain)!
  const stood = await db.query(
    `select 1 from result_row r join result_site s on s.site_id = $1 and s.id = r.on_site
     where r.site_id = $1 and r.market_id = $2 and r.keyword_id = $3 and s.domain = $4 and r.now <= 20`,
    [site.id, at.marketId, ids[0], leader.domain],
  )
  expect(before.change! > 0).toBe(stood.rowCount! > 0)
  expect(voices.sites.reduce((sum, voice) => sum + voice.change!, 0)).toBeCloseTo(0, 1)
})

test('by theme it says the own share and who leads', async () => {
  const made = await server.call(createGrouping, { ...at, from: { kind: 'rows', keywordIds: ids } })
  await server.finish(made.jobId)
  const { themes } = await server.call(readVoices, at)
  expect(themes.length).toBeGreaterThan(0)
  for (const theme of themes) {
    expect(theme.leaderShare).toBeGreaterThanOrEqual(theme.own)
    expect(theme.keywords).toBeGreaterThan(0)
  }
})

test('all sites stand at a glance, by the same visibility as their own screens, those that need a look first', async () => {
  const quiet = await server.call(createSite, { domain: 'clay.example', name: 'Clay' })
  await server.call(createPage, { siteId: site.id, title: 'Late', deadline: '2020-01-01' })
  const glances = await server.call(listGlances, {})
  expect(glances.at(-1)).toMatchObject({ siteId: quiet.id, tracked: 0, day: null, look: [] })
  const { visibility } = await server.call(listPositions, { ...at, compareDays: 7 })
  const mine = glances.find(each => each.siteId === site.id && each.market.id === at.marketId)!
  expect([mine.visibility, mine.change]).toEqual([visibility.now, visibility.change])
  expect(mine.look).toContain('1 planned page is late')
  expect(glances.filter(each => each.siteId === site.id).every(each => each.day !== null)).toBe(true)
})

test('kept results tell where rivals stood by day, and each day is shown as it was', async () => {
  const { lastDay } = await server.call(listPositions, at)
  const of = { ...at, keywordId: ids[0]! }
  const from = new Date(Date.parse(lastDay!) - 9 * 86_400_000).toISOString().slice(0, 10)
  const { rivals, kept } = await server.call(resultHistory, { ...of, from, days: 10 })
  expect(kept).toEqual([lastDay])
  expect(rivals).toHaveLength(5)
  const page = await server.call(readKeptResults, { ...of, day: lastDay! })
  for (const { domain, positions } of rivals) {
    expect(positions.slice(0, 9)).toEqual(new Array(9).fill(0))
    expect(positions[9]).toBe(page.results.find(each => each.domain === domain)!.position)
  }
  expect(page.results.map(each => each.position)).toEqual(page.results.map((_, i) => i + 1))
  await expect(server.call(readKeptResults, { ...of, day: from })).rejects.toThrow(
    'No results of this keyword are kept',
  )
})
