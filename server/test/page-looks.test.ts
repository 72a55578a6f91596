import { startCrawl } from '@dew-trail/contract/crawl'
import { startGathering } from '@dew-trail/contract/gather'
import { rankLinks, vetSite } from '@dew-trail/contract/links'
import type { Site } from '@dew-trail/contract/sites'
import { type FirstPage, readFirstPages, startWeighing, type WeighedResult } from '@dew-trail/contract/weigh'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { siteKind } from '@dew-trail/core/links/site-kind'
import { manySiteLooks } from '../src/domain/graph/queries.ts'
import { demoSite, type TestServer, testServer } from './test-server.ts'

let server: TestServer
let site: Site
let before: FirstPage[]
let after: FirstPage[]
/** The site that stands on most of the first pages, which is crawled. */
let domain: string
beforeAll(async () => {
  server = await testServer()
  site = await demoSite(server)
  const marketId = site.markets[0]!.id
  const requests = { siteId: site.id, marketId, seeds: ['pottery wheel'], mostIdeas: 40, ways: ['ads' as const] }
  for (const { jobId } of (await server.call(startGathering, requests)).jobs) await server.finish(jobId)
  const keywordIds = (await server.rows(site.id, marketId)).rows.slice(0, 12).map(row => row.id)
  const weighing = await server.call(startWeighing, { siteId: site.id, marketId, keywordIds })
  await server.finish(weighing.jobId!)
  const read = () => server.call(readFirstPages, { siteId: site.id, marketId, keywordIds })
  before = await read()
  const counts = new Map<string, number>()
  for (const result of all(before)) counts.set(result.domain, (counts.get(result.domain) ?? 0) + 1)
  domain = [...counts].sort((a, b) => b[1] - a[1] || (a[0] < b[0] ? -1 : 1))[0]![0]
  const { crawls } = await server.call(startCrawl, { siteId: site.id, domains: [domain], mostPages: 400 })
  await server.finish(crawls[0]!.jobId)
  await server.call(vetSite, { siteId: site.id, domain, kind: 'other', why: 'known to the tests' })
  await server.finish((await server.call(rankLinks, { siteId: site.id })).jobId)
  after = await read()
})
afterAll(() => server.close())
const all = (pages: FirstPage[]): WeighedResult[] => pages.flatMap(page => page.results)

describe('what our crawler and the link graph know of a result', () => {
  test('is unknown before anything was read, and so are its headings and text', () => {
    for (const { readOn, pageStanding, pageTrust, matches } of all(before))
      expect([readOn, pageStanding, pageTrust, matches.headings, matches.text]).toEqual([
        null,
        null,
        null,
        undefined,
        undefined,
      ])
  })
  test('comes with a crawl: when the page was read, and how the phrase stands in headings and text', () => {
    const read = all(after).filter(result => result.readOn !== null)
    expect(read.length).toBeGreaterThan(0)
    for (const { domain: of, readOn, matches } of read) {
      expect(of).toBe(domain)
      expect(readOn).toMatch(/^\d{4}-\d\d-\d\d$/)
      expect(matches.headings).toBeDefined()
      expect(matches.text).toBeDefined()
    }
    // A page that ranks says some of the words.
    expect(read.some(({ matches }) => matches.text !== 'none')).toBe(true)
  })
  test('standing and trust of a page are those of the graph, on one scale', async () => {
    const ranked = all(after).filter(result => result.pageStanding !== null)
    // Followed links are those that the graph has of the page; the site is what it looks like.
    for (const { url, domain, followedLinks, siteKind: kind } of all(after)) {
      const { rows } = await server.context.pool.query<{ followed: number | null }>(
        `select (select count(*)::integer from link l where l.target_page_id = p.id and l.gone_on is null
          and l.rel not in (1, 3, 5, 7)) followed
         from linked_page p where p.graph_id = 1 and p.url = $1`,
        [url],
      )
      expect(followedLinks).toBe(rows[0]?.followed ?? null)
      const look = (await manySiteLooks(server.context.pool, 1, [domain]))[0]
      expect(kind).toBe(look ? siteKind(look).kind : null)
    }
    expect(all(after).some(result => result.followedLinks)).toBe(true)
    expect(ranked.some(result => result.domain === domain)).toBe(true)
    for (const { pageStanding, pageTrust } of ranked) {
      expect(pageStanding).toBeGreaterThanOrEqual(0)
      expect(pageStanding).toBeLessThanOrEqual(100)
      expect(pageTrust).toBeGreaterThanOrEqual(0)
      expect(pageTrust).toBeLessThanOrEqual(100)
    }
    expect(ranked.some(result => result.pageTrust! > 0)).toBe(true)
  })
  test('links to the site are at least those to the page', () => {
    for (const { siteLinks, links } of all(after))
      if (siteLinks !== null && links !== null) expect(siteLinks).toBeGreaterThanOrEqual(links)
    expect(all(after).some(result => result.siteLinks !== null)).toBe(true)
  })
  test('the figures by which it is judged stay those that the engine shows', () => {
    expect(all(after).map(result => result.fit)).toEqual(all(before).map(result => result.fit))
  })
})
