import { startGathering } from '@dew-trail/contract/gather'
import { listSites, type Site } from '@dew-trail/contract/sites'
import { type FirstPage, getFirstPage, putPageBeside, startWeighing } from '@dew-trail/contract/weigh'
import pg from 'pg'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { demoSite, type TestServer, testServer } from './test-server.ts'

let server: TestServer
let site: Site
let key: { siteId: number; keywordId: number; marketId: number }
let unweighed: number
let page: FirstPage
beforeAll(async () => {
  server = await testServer()
  site = await demoSite(server)
  const marketId = site.markets[0]!.id
  const { jobs } = await server.call(startGathering, {
    siteId: site.id,
    marketId,
    seeds: ['pottery wheel'],
    mostIdeas: 12,
    ways: ['ads'],
  })
  await server.finish(jobs[0]!.jobId)
  const { rows } = await server.rows(site.id, marketId)
  key = { siteId: site.id, keywordId: rows.find(row => row.phrase === 'pottery wheel')!.id, marketId }
  unweighed = rows.find(row => row.id !== key.keywordId)!.id
  const { jobId } = await server.call(startWeighing, { siteId: site.id, marketId, keywordIds: [key.keywordId] })
  await server.finish(jobId!)
  page = (await server.call(getFirstPage, key))!
})
afterAll(() => server.close())

test('a draft that speaks of the keyword stands higher than one that does not, and lacks less', async () => {
  const good = await server.call(putPageBeside, {
    ...key,
    draft: 'Pottery wheel: which one to buy\nA pottery wheel turns clay. Every pottery wheel has a head.',
  })
  const poor = await server.call(putPageBeside, { ...key, draft: 'Our garden\nRoses and tulips in spring.' })
  expect(good).toMatchObject({
    address: null,
    title: 'Pottery wheel: which one to buy',
    assumedLinks: true,
    linkingSites: 2,
  })
  expect(good.position).toBeLessThan(poor.position)
  expect(good.chances!['10']!).toBeGreaterThan(poor.chances!['10']!)
  const own = (await server.call(listSites, {})).find(each => each.id === site.id)!
  expect(good.siteLevel).toBeCloseTo(own.levels.find(each => each.marketId === key.marketId)!.level!, 5)
  const lacksOf = (lacks: typeof good.lacks) => lacks.map(lack => lack.what)
  expect(lacksOf(poor.lacks)).toContain('title')
  expect(lacksOf(good.lacks)).not.toContain('title')
  expect(good.terms.length).toBeGreaterThan(0)
  for (const term of good.terms) expect(term.pages).toBeGreaterThanOrEqual(3)
})

test('HTML is read as a page', async () => {
  const found = await server.call(putPageBeside, {
    ...key,
    draft: '<html><head><title>Pottery wheel</title></head><body><h1>The wheel</h1><p>Two words.</p></body></html>',
  })
  expect(found.title).toBe('Pottery wheel')
  expect(found.fields.find(each => each.field === 'headings')).toMatchObject({ text: 'The wheel', match: 'some' })
})

test('a page is fetched by its address; one that ranks is judged by what the engine shows, without itself among the others', async () => {
  const ranking = page.results[0]!
  const found = await server.call(putPageBeside, { ...key, url: ranking.url })
  expect(found).toMatchObject({ address: ranking.url, ranksAt: 1, assumedLinks: false })
  expect(found.fit).toBeCloseTo(ranking.fit!, 5)
  expect(found.level).toBeCloseTo(ranking.level, 5)
  expect(found.results).toBeGreaterThanOrEqual(page.results.length - 1)
  expect(found.words).toBeGreaterThan(50)
})

test('longer forms of the keyword are told with how the page covers them, uncovered and worth most first', async () => {
  const found = await server.call(putPageBeside, { ...key, draft: 'Pottery wheel for kids\nA wheel for the beginner.' })
  expect(found.longer.length).toBeGreaterThan(3)
  for (const { phrase } of found.longer) expect(phrase).toMatch(/pottery/)
  expect(found.longer.map(each => each.phrase)).not.toContain('pottery wheel')
  const lacking = found.longer.filter(each => each.cover === 'no')
  expect(found.longer.slice(0, lacking.length)).toEqual(lacking)
  const values = lacking.map(each => each.value ?? -1)
  expect(values).toEqual([...values].sort((a, b) => b - a))
  const longest = found.longer[0]!.phrase
  const covered = await server.call(putPageBeside, { ...key, draft: `Pottery wheel\nMore on the ${longest}.` })
  expect(covered.longer.find(each => each.phrase === longest)!.cover).toBe('phrase')
})

test('what cannot be judged is refused in plain words', async () => {
  const refused = async (input: object, words: string): Promise<void> => {
    await expect(server.call(putPageBeside, { ...key, ...input })).rejects.toThrow(words)
  }
  await refused({}, 'one of the two')
  await refused({ url: 'https://a.example/', draft: 'text' }, 'one of the two')
  await refused({ url: 'no address' }, 'no web address')
  await refused({ url: `https://${page.results[0]!.domain}/there-is-no-such-page` }, 'status 404')
  await refused({ keywordId: unweighed, draft: 'text' }, 'weigh it first')
})

test('first pages of earlier days are told and can be opened', async () => {
  expect(page.dates).toEqual([page.fetchedOn])
  const client = new pg.Client({ connectionString: server.databaseUrl })
  await client.connect()
  await client.query(
    `insert into result_page (site_id, keyword_id, market_id, fetched_on, fetched_at, organic, features, related)
     select site_id, keyword_id, market_id, '2026-10-01', fetched_at,
       jsonb_build_array(organic->2 || '{"position":1}'), features || '{"firstPage":1}', related from result_page
       where site_id = $1 and keyword_id = $2`,
    [site.id, key.keywordId],
  )
  await client.end()
  const now = (await server.call(getFirstPage, key))!
  expect(now.dates).toEqual([page.fetchedOn, '2026-10-01'])
  expect(now.results).toHaveLength(page.results.length)
  const then = (await server.call(getFirstPage, { ...key, date: '2026-10-01' }))!
  expect(then.results.map(result => [result.position, result.url])).toEqual([[1, page.results[2]!.url]])
  expect(await server.call(getFirstPage, { ...key, date: '2026-10-02' })).toBeNull()
})
