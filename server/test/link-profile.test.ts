import { runImport } from '@dew-trail/contract/imports'
import { listLinks, listSharedLinkers, readLinkProfile } from '@dew-trail/contract/link-profile'
import { rankLinks } from '@dew-trail/contract/links'
import type { Site } from '@dew-trail/contract/sites'
import pg from 'pg'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { demoSite, type TestServer, testServer } from './test-server.ts'

let server: TestServer
let site: Site
let keywordId: number
/** Days of the weeks before this one, so that what is "of late" stays so: 0 is a Monday. */
const thisMonday = Date.now() - ((new Date().getUTCDay() + 6) % 7) * 86_400_000
const dayOf = (weeksAgo: number, weekday = 0): string =>
  new Date(thisMonday - (7 * weeksAgo - weekday) * 86_400_000).toISOString().slice(0, 10)
const [early, late] = [dayOf(41), dayOf(10)]
/** 40 sites link once to /a in one old week, 30 in one week of late, 3 from a followed and 2 from a nofollowed link to /b. */
const lines = [
  ...Array.from(
    { length: 40 },
    (_, i) => `https://old-${i}.example/p,https://big.example/a,wheels,,${dayOf(41, 1)},${dayOf(2)}`,
  ),
  ...Array.from(
    { length: 30 },
    (_, i) => `https://new-${i}.example/p,https://big.example/a,big,,${dayOf(10, 2 + (i % 3))},${dayOf(2)}`,
  ),
  'https://new-0.example/p,https://big.example/b,click here,,,',
  `https://old-1.example/q,https://big.example/b,kiln kits,,${dayOf(37)},`,
  `https://old-2.example/q,https://big.example/b,https://big.example/b,,${dayOf(37)},`,
  `https://old-3.example/q,https://big.example/b,pottery wheels,nofollow,${dayOf(37)},`,
  `https://old-4.example/q,https://big.example/b,pottery wheel,sponsored,${dayOf(37)},`,
  `https://big.example/a,https://big.example/b,inner,,${dayOf(37)},`,
]
const upload = async (kind: 'links' | 'keywords', csv: string): Promise<void> => {
  const { importId, suggested } = await server.upload(site.id, kind, csv, `${kind}.csv`)
  const marketId = site.markets[0]!.id
  const { jobId } = await server.call(runImport, { siteId: site.id, importId, marketId, mapping: suggested })
  expect((await server.finish(jobId)).state).toBe('done')
}
beforeAll(async () => {
  server = await testServer()
  site = await demoSite(server)
  await upload('links', `source url,target url,anchor,rel,first seen,last seen\n${lines.join('\n')}\n`)
  await upload('keywords', 'keyword\npottery wheel\n')
  keywordId = (await server.rows(site.id, site.markets[0]!.id)).rows[0]!.id
  await server.finish((await server.call(rankLinks, { siteId: site.id })).jobId)
})
afterAll(() => server.close())

const profile = (url: string, scope: 'page' | 'site') =>
  server.call(readLinkProfile, { siteId: site.id, url, scope, keywordId })

describe('profile of links', () => {
  test('sums of a site come from what was summed with its links, those of a page are counted; inner links are in neither', async () => {
    expect(await profile('big.example', 'site')).toMatchObject({
      known: true,
      domain: 'big.example',
      there: 75,
      follow: 73,
      linkingPages: 74,
      linkingSites: 70,
    })
    expect(await profile('https://big.example/b', 'page')).toMatchObject({
      there: 5,
      follow: 3,
      linkingPages: 5,
      linkingSites: 5,
    })
  })
  test('linking sites by standing add up to those with followed links', async () => {
    const whole = await profile('https://big.example/', 'site')
    expect(whole.bands).toHaveLength(5)
    expect(whole.bands!.reduce((a, b) => a + b)).toBe(70)
    const page = await profile('https://big.example/b', 'page')
    expect(page.bands!.reduce((a, b) => a + b)).toBe(3)
  })
  test('anchors are classed and counted; on topic is what has a word of the keyword', async () => {
    const { anchors, topic } = await profile('https://big.example/b', 'page')
    expect(anchors).toMatchObject({ looked: 5, classes: { exact: 2, address: 1, generic: 1 } })
    expect(topic).toMatchObject({ looked: 5, on: 2, unknown: 3 })
    expect((await profile('big.example', 'site')).anchors.list[0]).toMatchObject({ text: 'wheels', links: 40 })
  })
  test('a week with far more new linking sites than usual is a burst', async () => {
    const { gained, bursts, undated } = await profile('https://big.example/a', 'page')
    expect(gained).toHaveLength(52)
    expect(gained.find(each => each.week === late)).toEqual({ week: late, sites: 30 })
    expect(bursts.map(each => [each.week, each.sites])).toEqual([
      [early, 40],
      [late, 30],
    ])
    expect(undated).toBe(0)
  })
  test('what the graph has never met is unknown, and what is no address is refused', async () => {
    expect(await profile('https://never.example/', 'site')).toMatchObject({ known: false, bands: null, topic: null })
    expect(await profile('https://big.example/nowhere', 'page')).toMatchObject({ known: false })
    await expect(profile('not an address', 'page')).rejects.toThrow('is no web address')
  })
})

describe('list of links', () => {
  test('pages of a list join without gap or overlap, and only the first is counted', async () => {
    const seen: string[] = []
    let after: string | null = null
    do {
      const page: Awaited<ReturnType<typeof next>> = await next(after)
      expect(page.count).toBe(after ? null : 75)
      seen.push(...page.links.map(link => `${link.source} ${link.target} ${link.anchor}`))
      after = page.next
    } while (after)
    expect(seen).toHaveLength(75)
    expect(new Set(seen).size).toBe(75)
    async function next(from: string | null) {
      return server.call(listLinks, {
        siteId: site.id,
        url: 'big.example',
        scope: 'site',
        most: 20,
        ...(from ? { after: from } : {}),
      })
    }
  })
  test('conditions hold, and a followed link tells its pull', async () => {
    const list = await server.call(listLinks, {
      siteId: site.id,
      url: 'https://big.example/b',
      scope: 'page',
      follow: 'true',
      there: 'true',
      since: dayOf(38),
    })
    expect(list.count).toBe(2)
    expect(list.links.map(link => link.anchor).sort()).toEqual(['https://big.example/b', 'kiln kits'])
    for (const link of list.links) {
      expect(link.rel).toEqual([])
      expect(link.pull).toBeGreaterThanOrEqual(0)
      expect(link.standing).toBeGreaterThanOrEqual(0)
    }
    const all = await server.call(listLinks, { siteId: site.id, url: 'https://big.example/b', scope: 'page' })
    expect(all.links.find(link => link.rel.includes('nofollow'))).toMatchObject({ pull: null })
  })
})

describe('what stands behind links', () => {
  test('standing is traced back to the topics of the linking sites, by the words of their pages', async () => {
    expect((await profile('big.example', 'site')).subjects).toBeNull()
    const db = new pg.Client({ connectionString: server.databaseUrl })
    await db.connect()
    await db.query(
      `insert into page_content (graph_id, page_id, fetched_at, status, title, description)
       select 1, p.id, now(), 200, case when s.domain like 'old-%' then 'Kiln glaze and stoneware'
         else 'Tulip garden' end, case when s.domain like 'old-%' then 'Firing stoneware clay'
         else 'Hedge and compost for a garden' end
       from linked_page p join linked_site s on s.graph_id = 1 and s.id = p.site_id
         where p.graph_id = 1 and s.domain ~ '^(old|new)-'`,
    )
    await db.end()
    await server.finish((await server.call(rankLinks, { siteId: site.id })).jobId)
    const { subjects } = await profile('big.example', 'site')
    expect(subjects).toHaveLength(2)
    expect(subjects![0]!.words).toEqual(expect.arrayContaining(['stoneware']))
    expect(subjects![1]!.words).toEqual(expect.arrayContaining(['garden']))
    // 40 sites of the one topic and 30 of the other link to it alone.
    expect(subjects![0]!.share).toBeCloseTo(4 / 7, 1)
    expect(subjects![0]!.share + subjects![1]!.share).toBeCloseTo(1, 3)
  })

  test('sites that link to several are found, best hubs first; the own site and the asked ones are not among them', async () => {
    const link = (from: string, to: string): string => `https://${from}.example/,https://${to}/,word,,,`
    const more = [
      ...['one', 'two', 'three'].map(to => link('hub', `${to}.example`)),
      ...['one', 'two'].map(to => link('lesser', `${to}.example`)),
      link('lesser', site.domain),
      link('single', 'three.example'),
      link('one', 'two.example'),
      link('one', 'three.example'),
      ...['one', 'two'].map(to => `https://${site.domain}/,https://${to}.example/,word,,,`),
    ]
    await upload('links', `source url,target url,anchor,rel,first seen,last seen\n${more.join('\n')}\n`)
    const shared = await server.call(listSharedLinkers, {
      siteId: site.id,
      domains: ['one.example', 'two.example', 'three.example', 'nobody.example', site.domain],
    })
    expect(shared).toMatchObject({ unknown: ['nobody.example'], count: 2 })
    expect(shared.linkers).toMatchObject([
      { domain: 'hub.example', to: ['one.example', 'two.example', 'three.example'], hub: 100, linksToOwn: false },
      { domain: 'lesser.example', to: ['one.example', 'two.example'], linksToOwn: true },
    ])
    expect(shared.linkers[1]!.hub).toBeGreaterThan(0)
    expect(shared.linkers[1]!.hub).toBeLessThan(100)
  })
})
