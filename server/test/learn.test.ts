import { startGathering } from '@dew-trail/contract/gather'
import type { Job } from '@dew-trail/contract/jobs'
import { listSites, type Site } from '@dew-trail/contract/sites'
import {
  type FirstPage,
  getFirstPage,
  getStrengths,
  learnStrengths,
  startWeighing,
  movedFigures,
  takeMarketScale,
} from '@dew-trail/contract/weigh'
import { sitesForScale } from '@dew-trail/core/results/level-scale'
import { pagesToLearn } from '@dew-trail/core/results/learn-strength'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { maybeSite } from '../src/domain/sites/queries.ts'
import { rescoreAll, rescoreWhereFactsAreNew } from '../src/features/weigh/rescore.ts'
import { demoSite, type TestServer, testServer } from './test-server.ts'

const openSite = async () => {
  // Fewer pages than by default: what is learnt from them need not be good.
  const server = await testServer({ LEARN_PAGES: String(pagesToLearn + 30) })
  const site = await demoSite(server)
  const marketId = site.markets[0]!.id
  return {
    server,
    site,
    marketId,
    gather: async (seeds: string[], mostIdeas: number): Promise<void> => {
      const requests = { siteId: site.id, marketId, seeds, mostIdeas, ways: ['ads' as const] }
      const { jobs } = await server.call(startGathering, requests)
      for (const { jobId } of jobs) expect((await server.finish(jobId)).state).toBe('done')
    },
    learn: async (): Promise<Job> =>
      server.finish((await server.call(learnStrengths, { siteId: site.id, marketId })).jobId),
    ofMarket: async () =>
      (await server.call(getStrengths, { siteId: site.id })).find(each => each.marketId === marketId)!,
  }
}

test('with too few keywords the default weights stay, and the answer says what was there', async () => {
  const { server, site, marketId, gather, learn, ofMarket } = await openSite()
  try {
    await gather(['raku kiln'], 40)
    const { rows } = await server.rows(site.id, marketId)
    expect(rows.length).toBeLessThan(pagesToLearn)
    const job = await learn()
    expect(job).toMatchObject({ state: 'done', result: { learnt: false, pages: rows.length, rescored: 0 } })
    expect(await ofMarket()).toMatchObject({ learnt: false, pages: rows.length, needed: pagesToLearn, report: null })
  } finally {
    await server.close()
  }
})

describe('enough result pages', () => {
  let opened: Awaited<ReturnType<typeof openSite>>
  let server: TestServer
  let site: Site
  let marketId: number
  let ids: number[]
  let before: FirstPage
  let job: Job
  beforeAll(async () => {
    opened = await openSite()
    ;({ server, site, marketId } = opened)
    await opened.gather(['pottery wheel', 'glaze', 'clay'], 100)
    // By name: three gatherings at once find them in any order.
    const found = (await server.rows(site.id, marketId)).rows.sort((a, b) => (a.phrase < b.phrase ? -1 : 1))
    ids = found.slice(0, 5).map(row => row.id)
    const weighing = await server.call(startWeighing, { siteId: site.id, marketId, keywordIds: ids })
    await server.finish(weighing.jobId!)
    // The first is one without a page of the site, of which the chances of a new page are the row's.
    const standing = new Map(
      (await server.rows(site.id, marketId)).rows.map(row => [row.id, row.pagePosition !== null]),
    )
    ids.sort((a, b) => Number(standing.get(a)) - Number(standing.get(b)))
    expect(standing.get(ids[0]!)).toBe(false)
    before = (await server.call(getFirstPage, { siteId: site.id, keywordId: ids[0]!, marketId }))!
    job = await opened.learn()
  })
  afterAll(() => server.close())

  test('give strengths, by which what was weighed is judged anew', async () => {
    expect(before.model).toBe('default weights')
    expect(job).toMatchObject({ state: 'done', result: { learnt: true, rescored: 5 } })
    const known = await opened.ofMarket()
    expect(known).toMatchObject({ learnt: true, weighedSince: 0 })
    expect(known.pages).toBeGreaterThanOrEqual(pagesToLearn)
    expect(known.report!.pairAccuracy).toBeGreaterThan(0.6)
    expect(known.report!.pairAccuracy).toBeLessThanOrEqual(1)
    for (const { y } of Object.values(known.curves))
      for (let i = 1; i < y.length; i++) expect(y[i]).toBeGreaterThanOrEqual(y[i - 1]!)

    const after = (await server.call(getFirstPage, { siteId: site.id, keywordId: ids[0]!, marketId }))!
    expect(after.model).toBe('learnt strengths')
    // What results showed at near keywords is known of some, and of none by the default weights.
    const near = (page: typeof after): number[] =>
      page.results.flatMap(result => result.parts.filter(part => part.feature === 'neighbours').map(part => part.adds))
    expect(near(before)).toEqual([])
    expect(near(after).some(adds => adds !== 0)).toBe(true)
    for (const { strength, parts } of after.results)
      expect(strength).toBeCloseTo(parts.reduce((sum, part) => sum + part.adds, 0))
    const row = (await server.rows(site.id, marketId)).rows.find(each => each.id === ids[0])!
    // To the digit that is shown, on both.
    expect(Math.abs(row.difficulty - after.difficulty!)).toBeLessThan(0.0001)
    expect(row.chance).toBeCloseTo(after.chances!['10']!, 5)
    expect(Math.round(100 * row.chance)).toBe(Math.round(100 * after.chances!['10']!))
    // What moved for all is told by the rows' own figures.
    const { rows } = await server.rows(site.id, marketId)
    const moved = movedFigures.parse(job.result!.moved)
    expect(moved).toMatchObject({ marketId, before: { keywords: 5 }, after: { keywords: 5 } })
    const weighed = rows.filter(each => ids.includes(each.id))
    expect(moved.after.difficulty).toBeCloseTo(weighed.map(each => each.difficulty).sort((a, b) => a - b)[2]!, 3)
    const visits = weighed.reduce((sum, each) => sum + (each.visits > 0 ? each.visits : 0), 0)
    expect(moved.after.visits).toBeCloseTo(visits, 0)
    expect(moved.before.difficulty).not.toBe(moved.after.difficulty)
    // Levels of the site are told by the same strengths.
    const [own] = await server.call(listSites, {})
    const [level, was] = [own!.levels[0]!, site.levels[0]!]
    expect(level.comfortable).not.toBe(was.comfortable)
    // The scale of the market's own sites stands in place of the shipped one.
    expect([was.scaleSites, was.scaleTakenOn, was.scaleDeep]).toEqual([null, null, false])
    expect(level.scaleDeep).toBe(true)
    expect(level.scaleSites).toBeGreaterThanOrEqual(sitesForScale)
    expect(after.scale).toEqual({ takenOn: level.scaleTakenOn, sites: level.scaleSites, deep: true })
    expect(after.ownLevel).toBeCloseTo(level.level!, 6)
    for (const market of own!.levels.slice(1)) expect(market.scaleTakenOn).toBeNull()
  })

  test('the scale stays as it was taken until it is asked for anew, which says what moved', async () => {
    const { pool } = server.context
    const levelNow = async () => (await server.call(listSites, {}))[0]!.levels[0]!
    const { level } = await levelNow()
    await pool.query('update site_fact set linking_sites = linking_sites * 4 where domain <> $1', [site.domain])
    expect((await levelNow()).level).toBe(level)
    const { jobId } = await server.call(takeMarketScale, { siteId: site.id, marketId })
    const taken = await server.finish(jobId)
    expect(taken).toMatchObject({ state: 'done', result: { rescored: 5 } })
    expect(movedFigures.parse(taken.result!.moved).marketId).toBe(marketId)
    expect((await levelNow()).level).toBeLessThan(level!)
    await pool.query('update site_fact set linking_sites = linking_sites / 4 where domain <> $1', [site.domain])
    await server.finish((await server.call(takeMarketScale, { siteId: site.id, marketId })).jobId)
    expect((await levelNow()).level).toBeCloseTo(level!, 0)
    // Where too few sites are known there is nothing to take.
    const none = await server.finish(
      (await server.call(takeMarketScale, { siteId: site.id, marketId: site.markets[1]!.id })).jobId,
    )
    expect(none).toMatchObject({ state: 'failed' })
    expect(none.error).toContain('A scale takes 10 sites')
  })

  test('a site that nobody was asked about is judged as one without links, one without known links stands at 0', async () => {
    const { pool } = server.context
    const [{ rows }, page] = [
      await server.rows(site.id, marketId),
      async () => (await server.call(getFirstPage, { siteId: site.id, keywordId: ids[0]!, marketId }))!,
    ]
    expect(rows.find(row => row.id === ids[0])!.ownLevel).not.toBeNull()
    const known = await pool.query<{ sites: number; at: Date }>(
      'select linking_sites sites, links_at at from site_fact where domain = $1',
      [site.domain],
    )
    const set = (sites: number | null, at: Date | null) =>
      pool.query('update site_fact set linking_sites = $2, links_at = $3 where domain = $1', [site.domain, sites, at])
    const { at, sites } = known.rows[0]!
    await set(null, at)
    const [without] = await server.call(listSites, {})
    expect(without).toMatchObject({ linkingSites: null, linksAskedOn: at.toISOString().slice(0, 10) })
    expect(without!.levels[0]!.level).toBe(0)
    expect(await page()).toMatchObject({ ownLevel: 0, ownLinksAskedOn: at.toISOString().slice(0, 10) })
    const chances = (await page()).chances!
    await set(null, null)
    expect(await page()).toMatchObject({ ownLevel: null, ownLinksAskedOn: null, chances })
    expect((await page()).sentence).toContain('at least')
    const [never] = await server.call(listSites, {})
    expect(never!.levels[0]).toMatchObject({ level: null, comfortable: without!.levels[0]!.comfortable })
    await set(sites, at)
  })

  test('what becomes known later is told by the page and by the row alike; the weighing stays as old as it was', async () => {
    const { pool } = server.context
    // One that can become harder as well as easier comes first: rows come in the order in which they were weighed, which is any.
    const weighed = (await server.rows(site.id, marketId)).rows
      .filter(row => row.difficulty !== null)
      .sort((a, b) => Math.abs(a.difficulty - 50) - Math.abs(b.difficulty - 50))
    const { id } = weighed[0]!
    const soon = new Date(Date.now() + 3_600_000)
    const { signal } = new AbortController()
    const pageOf = async () => (await server.call(getFirstPage, { siteId: site.id, keywordId: id, marketId }))!
    const changedSince = async (since: number) => (await server.rows(site.id, marketId, since)).rows
    const weighedAt = async (): Promise<string[]> =>
      (await pool.query<{ at: string }>('select weighed_at::text at from weighing order by keyword_id')).rows.map(
        row => row.at,
      )
    const [seen, times, { revision }] = [await pageOf(), await weighedAt(), await server.rows(site.id, marketId)]
    await pool.query('update page_fact set linking_sites = coalesce(linking_sites, 0) + 400 where url = any($1)', [
      seen.results.map(result => result.url),
    ])
    const page = await pageOf()
    expect(page.difficulty).toBeGreaterThan(seen.difficulty!)
    // To read is not to write: a page that is opened changes no row.
    expect(await changedSince(revision)).toEqual([])
    await rescoreWhereFactsAreNew(server.context, (await maybeSite(pool, site.id))!, site.markets[0]!, soon, signal)
    expect(await changedSince(revision)).toEqual([])
    await pool.query('update page_fact set links_at = $2 where url = any($1)', [
      seen.results.slice(0, 1).map(result => result.url),
      soon,
    ])
    await rescoreWhereFactsAreNew(server.context, (await maybeSite(pool, site.id))!, site.markets[0]!, soon, signal)
    const changed = await changedSince(revision)
    expect(changed.map(each => each.id)).toContain(id)
    const row = changed.find(each => each.id === id)
    expect(Math.abs(row!.difficulty - page.difficulty!)).toBeLessThan(0.006)

    // At night all of them are looked at, also those that nobody opens.
    const other = weighed[1]!.id
    await pool.query(
      `update page_fact set linking_sites = coalesce(linking_sites, 0) + 400 where not url = any($2) and url in
       (select o->>'url' from result_page r cross join jsonb_array_elements(r.organic) o where r.keyword_id = $1)`,
      [other, seen.results.map(result => result.url)],
    )
    const between = (await server.rows(site.id, marketId)).revision
    await rescoreAll(server.context)
    expect((await changedSince(between)).map(each => each.id)).toContain(other)
    // What is known of links grows old and is asked for again when keywords are weighed; until then it is still known.
    await pool.query("update page_fact set links_at = links_at - interval '40 days'")
    const last = (await server.rows(site.id, marketId)).revision
    await rescoreAll(server.context)
    await pageOf()
    expect(await changedSince(last)).toEqual([])
    expect(await weighedAt()).toEqual(times)
  })

  test('other engines and devices keep their own; a market that is not there is refused', async () => {
    const all = await server.call(getStrengths, { siteId: site.id })
    expect(all).toHaveLength(4)
    expect(all.filter(each => each.learnt).map(each => each.marketId)).toEqual([marketId])
    await expect(server.call(learnStrengths, { siteId: site.id, marketId: 99_999 })).rejects.toThrow('no market')
  })
})
