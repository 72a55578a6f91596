import { runImport } from '@dew-trail/contract/imports'
import { listLinkedPages, listLinkingSites, listTargetLinks } from '@dew-trail/contract/link-lists'
import { listFeeds, loadFeeds, rankLinks, readLinkState, readStandings, verifyLinks } from '@dew-trail/contract/links'
import { listImports, listSources, suggestCrawls } from '@dew-trail/contract/sources'
import { startCrawl } from '@dew-trail/contract/crawl'
import { createSite, listSites, type Site } from '@dew-trail/contract/sites'
import pg from 'pg'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { denseIndex, readInts } from '../src/domain/graph/read-edges.ts'
import { demoSite, type TestServer, testServer } from './test-server.ts'

let server: TestServer
let site: Site
let db: pg.Client
beforeAll(async () => {
  server = await testServer()
  site = await demoSite(server)
  db = new pg.Client({ connectionString: server.databaseUrl })
  await db.connect()
})
afterAll(async () => {
  await db.end()
  await server.close()
})

const one = async (sql: string, ...values: unknown[]): Promise<any> => (await db.query(sql, values)).rows[0]
const linkOf = (source: string, target: string): Promise<any> =>
  one(
    `select l.*, a.text anchor, l.first_seen::text "first", l.last_seen::text "last", l.gone_on::text gone from link l
      join linked_page s on s.graph_id = 1 and s.id = l.source_page_id
        join linked_page t on t.graph_id = 1 and t.id = l.target_page_id
     join anchor_text a on a.graph_id = 1 and a.id = l.anchor_id where s.url = $1 and t.url = $2`,
    source,
    target,
  )
async function importLinks(csv: string): Promise<{ importId: number; result: any }> {
  const { importId, suggested } = await server.upload(site.id, 'links', csv, 'links.csv')
  const { jobId } = await server.call(runImport, {
    siteId: site.id,
    importId,
    marketId: site.markets[0]!.id,
    mapping: suggested,
  })
  const job = await server.finish(jobId)
  expect(job.state).toBe('done')
  return { importId, result: job.result }
}

describe('links from files', () => {
  const head = 'source url,target url,anchor,rel,first seen,last seen\n'
  test('good lines are merged, wrong ones listed with what is wrong', async () => {
    const { importId, result } = await importLinks(
      `${head}https://a.example/1,https://file.example/,Clay,,2025-03-01,2025-04-01\n` +
        'A.example/1#x,https://file.example/,Other,nofollow,2025-03-02,2025-04-02\n' +
        'not an address,https://file.example/,x,,,\n' +
        'https://a.example/2,,x,,,\n' +
        'https://a.example/3,https://file.example/,x,,yesterday,\n' +
        '"https://a.example/4",https://file.example/,"two\nlines",,,\n',
    )
    expect(result).toMatchObject({ lines: 6, wrong: 3, saved: 3 })
    const errors = (await server.raw(`/api/sites/${site.id}/imports/${importId}/errors.csv`)).body as string
    expect(errors).toContain('4,The linking page is no web address,not an address')
    expect(errors).toContain('5,The linked page is empty')
    expect(errors).toMatch(/6,First seen .*yesterday/)
    expect((await linkOf('https://a.example/4', 'https://file.example/')).anchor).toBe('two lines')
    expect(await server.call(listImports, { siteId: site.id })).toMatchObject([
      { id: importId, kind: 'links', fileName: 'links.csv', ran: true, errors: 3 },
    ])
  })
  test('a file without quotes is read the same way: lines, errors, spaces and long anchors', async () => {
    const { importId, result } = await importLinks(
      `${head}https://plain.example/1,https://unquoted.example/,${'clay '.repeat(200)},,2025-03-01,2025-04-01\n\n` +
        'not an address,https://unquoted.example/,x,,,\n' +
        'https://plain.example/2,https://unquoted.example/,x,,yesterday,\n' +
        'Plain.example/3#x, https://unquoted.example/ ,two   words,nofollow,2025-03-02,2025-04-02\n',
    )
    expect(result).toMatchObject({ lines: 4, wrong: 2, saved: 2 })
    const errors = (await server.raw(`/api/sites/${site.id}/imports/${importId}/errors.csv`)).body as string
    expect(errors).toContain('4,The linking page is no web address,not an address')
    expect(errors).toMatch(/5,First seen .*yesterday/)
    const long = await linkOf('https://plain.example/1', 'https://unquoted.example/')
    expect(long).toMatchObject({ anchor: 'clay '.repeat(100), first: '2025-03-01' })
    expect((await linkOf('http://plain.example/3', 'https://unquoted.example/')).anchor).toBe('two words')
  })
  test('the same link again widens its days and adds nothing; sums follow', async () => {
    const csv = (first: string, last: string): string =>
      `${head}https://b.example/1,https://twice.example/,Clay,,${first},${last}\n`
    await importLinks(csv('2025-03-01', '2025-04-01'))
    await importLinks(csv('2025-02-01', '2025-03-15'))
    await importLinks(csv('', '2025-06-01'))
    expect(await linkOf('https://b.example/1', 'https://twice.example/')).toMatchObject({
      first: '2025-02-01',
      last: '2025-06-01',
      gone: null,
      seen_by: 8,
    })
    expect(
      await one(
        `select t.links, t.there, t.linking_sites from link_total t
          join linked_site s on s.graph_id = 1 and s.id = t.target_site_id where s.domain = 'twice.example'`,
      ),
    ).toEqual({ links: 1, there: 1, linking_sites: 1 })
  })
})

describe('feeds, crawl and standing', () => {
  test('two feeds and the crawl become one body of links with where each is from', async () => {
    const { crawls } = await server.call(startCrawl, {
      siteId: site.id,
      domains: ['clayharbour.example'],
      mostPages: 60,
    })
    await server.finish(crawls[0]!.jobId)
    const { jobId } = await server.call(loadFeeds, {
      siteId: site.id,
      domains: [site.domain, 'clayharbour.example', 'bazaarbay.example', 'tarrowdaily.example'],
    })
    const job = await server.finish(jobId!)
    expect(job).toMatchObject({ state: 'done', warnings: [] })
    const { rows } = await db.query<{ seen_by: number; count: number }>(
      'select seen_by, count(*)::integer count from link where source_site_id <> target_site_id group by 1',
    )
    const by = new Map(rows.map(row => [row.seen_by, row.count]))
    // North, south and both; and links that the crawl saw and a feed knows.
    expect(by.get(2)).toBeGreaterThan(0)
    expect(by.get(4)).toBeGreaterThan(0)
    expect(by.get(6)).toBeGreaterThan(0)
    expect([...by].some(([seen]) => (seen & 1) === 1 && seen > 1)).toBe(true)
    expect((await one('select count(*)::integer lost from link where gone_on is not null')).lost).toBeGreaterThan(0)
    // Sums agree with the links they are sums of.
    const wrong = await one(
      `select count(*)::integer count from link_total t
        join lateral (select count(*) filter (where gone_on is null) there,
          count(distinct source_site_id) filter (where gone_on is null) sites from link l
         where l.graph_id = 1 and l.target_site_id = t.target_site_id and l.source_site_id <> l.target_site_id) l
           on true where l.there <> t.there or l.sites <> t.linking_sites`,
    )
    expect(wrong.count).toBe(0)
    expect((await one('select count(*)::integer count from link_unsummed')).count).toBe(0)
  })
  test(`one feed alone is asked where it is chosen, and the best linking pages are read afterwards,
    once`, async () => {
    expect(await server.call(listFeeds, { siteId: site.id })).toEqual(['north', 'south'])
    const at = { siteId: site.id, target: 'glazeworks.example', age: 'ever' as const }
    const load = { siteId: site.id, domains: ['glazeworks.example'], feeds: ['south'], readPages: 6 }
    const job = await server.finish((await server.call(loadFeeds, load)).jobId!)
    expect(job).toMatchObject({ state: 'done', result: { read: 6, failed: 0 } })
    const { rows } = await server.call(listTargetLinks, at)
    const { rows: bits } = await db.query<{ seen_by: number }>(
      `select distinct seen_by from link l join linked_site d on d.graph_id = 1 and d.id = l.target_site_id
         and d.domain = 'glazeworks.example' where l.source_site_id <> l.target_site_id`,
    )
    // South alone, our crawler alone or both; north was not asked.
    expect(bits.every(({ seen_by }) => (seen_by & 2) === 0)).toBe(true)
    const read = rows.filter(row => row.verifiedOn !== null)
    expect(new Set(read.map(row => row.source)).size).toBe(6)
    expect(read.some(row => row.around !== null && row.region !== null)).toBe(true)
    const other = rows.find(row => row.verifiedOn === null)!
    const verify = await server.call(verifyLinks, { siteId: site.id, pages: [other.source, other.source] })
    expect(verify.requests).toBe(1)
    expect((await server.finish(verify.jobId)).result).toEqual({ read: 1, failed: 0 })
    const after = (await server.call(listTargetLinks, at)).rows.filter(row => row.source === other.source)
    expect(after.every(row => row.verifiedOn !== null)).toBe(true)
  })
  test(`what a feed tells beside links: country of addresses, how often pages were passed on; unknown
    where none does`, async () => {
    const of = { siteId: site.id, target: 'clayharbour.example' }
    const { rows: sites } = await server.call(listLinkingSites, of)
    const countries = new Set(sites.map(each => each.country))
    expect(countries).toContain('GB')
    expect(countries).toContain(null)
    const known = await server.call(listLinkingSites, { ...of, where: ['country:is:GB'] })
    expect(known.met).toBe(sites.filter(each => each.country === 'GB').length)
    const { rows: links } = await server.call(listTargetLinks, of)
    const shared = links.filter(each => each.shares !== null && each.shares > 0)
    expect(shared.length).toBeGreaterThan(0)
    expect(links.some(each => each.shares === null)).toBe(true)
    const found = await server.call(listTargetLinks, { ...of, where: ['shares:from:1'], sort: '-shares' })
    expect(found.met).toBe(shared.length)
    expect(found.rows[0]!.shares).toBe(Math.max(...shared.map(each => each.shares!)))
    const { rows: pages } = await server.call(listLinkedPages, of)
    expect(pages.some(each => each.shares !== null)).toBe(true)
  })
  test('standing agrees with who is linked by many; doubt falls on what nobody vetted stands behind', async () => {
    const { jobId } = await server.call(rankLinks, { siteId: site.id })
    expect((await server.finish(jobId)).state).toBe('done')
    const standings = await server.call(readStandings, { siteId: site.id })
    const of = (domain: string) => standings.find(each => each.domain === domain)!
    expect(of('tarrowdaily.example').standing).toBeGreaterThan(of(site.domain).standing)
    expect(standings.every(each => each.standing >= 0 && each.standing <= 100 && each.doubt! <= 1)).toBe(true)
    const state = await server.call(readLinkState, { siteId: site.id })
    expect(state.snapshot).toMatchObject({ sites: state.sites, vetted: expect.any(Number) })
    expect(state.fetched).toBeGreaterThan(20)
    // A second snapshot of the same links says the same.
    await server.finish((await server.call(rankLinks, { siteId: site.id })).jobId)
    expect(await server.call(readStandings, { siteId: site.id, domains: [site.domain] })).toMatchObject([
      { standing: of(site.domain).standing, cluster: of(site.domain).cluster },
    ])
    expect(
      (await one('select count(distinct snapshot_id)::integer count from page_standing')).count,
    ).toBeLessThanOrEqual(2)
  })
  test('sources tell what was asked of them and how old the newest data is', async () => {
    const sources = await server.call(listSources, { siteId: site.id })
    const of = (key: string) => sources.find(each => each.key === key)!
    expect(of('feeds').today.requests).toBeGreaterThan(4)
    expect(of('web').today.requests).toBeGreaterThanOrEqual(60)
    expect(of('web').newest).not.toBeNull()
    expect(of('ads')).toMatchObject({ newest: null, keyFrom: 'configuration', lastFailure: null })
    expect(JSON.stringify(sources)).not.toContain('demo-key')
    const [own] = await server.call(suggestCrawls, { siteId: site.id })
    expect(own).toMatchObject({ domain: site.domain, own: true })
  })
})

describe('reading edges', () => {
  test('integers arrive as they are, and ids become dense', async () => {
    const [a, b] = (await readInts(db, 'select i, i * 7 from generate_series(0, 200000) i', 2)) as [
      Int32Array,
      Int32Array,
    ]
    expect(a).toHaveLength(200_001)
    expect([a[123_456], b[200_000]]).toEqual([123_456, 1_400_000])
    const { ids, index } = denseIndex(Int32Array.of(7, 3), Int32Array.of(3, 90))
    expect([...ids]).toEqual([3, 7, 90])
    expect([index[3], index[90], index[8]]).toEqual([0, 2, -1])
  })
})

describe('links that only a file names', () => {
  test('count for the level of a site where the sources know none', async () => {
    const own = await server.call(createSite, {
      domain: 'only-by-file.example',
      name: 'By file',
      place: 'tarrow',
      language: 'en',
    })
    expect(own).toMatchObject({ linkingSites: null })
    expect(own.levels.map(each => each.level)).toEqual(own.levels.map(() => 0))
    const lines = Array.from(
      { length: 30 },
      (_, i) => `https://by-file-${i}.example/,https://only-by-file.example/,clay`,
    )
    await importLinks(`source url,target url,anchor\n${lines.join('\n')}\n`)
    const { jobId } = await server.call(rankLinks, { siteId: site.id })
    await server.finish(jobId)
    const known = (await server.call(listSites, {})).find(each => each.id === own.id)!
    expect(known.linkingSites).toBe(30)
    for (const { level } of known.levels) expect(level).toBeGreaterThan(20)
  })
})
