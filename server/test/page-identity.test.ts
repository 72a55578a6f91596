import { readHtml } from '../src/domain/pages/read-body.ts'
import type { PageOutcome } from '../src/domain/pages/crawler.ts'
import { seenByBits } from '@dew-trail/core/links/link-codes'
import pg from 'pg'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { AddressBook } from '../src/domain/graph/address-book.ts'
import { manyFetchTimes, maybeContent, readAddress } from '../src/domain/graph/content-queries.ts'
import type { FoundLink } from '../src/domain/graph/link-lines.ts'
import { manyPageLooks } from '../src/domain/graph/page-queries.ts'
import { saveLinks } from '../src/domain/graph/save-links.ts'
import { onePerPage, savePages } from '../src/domain/graph/save-pages.ts'
import { manyLinks, maybeTarget } from '../src/features/links/profile-queries.ts'
import { inTransaction } from '../src/platform/db/pool.ts'
import { type TestServer, testServer } from './test-server.ts'

const graphId = 1
let server: TestServer
let pool: pg.Pool
beforeAll(async () => {
  server = await testServer()
  pool = new pg.Pool({ connectionString: server.databaseUrl, max: 2 })
})
afterAll(async () => {
  await pool.end()
  await server.close()
})

const outcome = (url: string, more: Partial<PageOutcome> = {}): PageOutcome => ({
  url,
  state: 'fetched',
  status: 200,
  problem: null,
  redirectTo: null,
  contentType: 'text/html',
  etag: null,
  lastModified: null,
  unchanged: false,
  retryAfterMs: null,
  facts: null,
  ...more,
})
const read = (url: string, html: string): PageOutcome => outcome(url, { facts: readHtml(html, url) })
const moved = (url: string, redirectTo: string): PageOutcome => outcome(url, { status: 301, redirectTo })
const link = (source: string, target: string): FoundLink => ({
  source,
  target,
  anchor: 'kilns',
  rel: 0,
  kind: 'text',
  region: null,
  linkedAround: null,
  around: null,
  firstSeen: '2026-03-01',
  lastSeen: '2026-04-01',
  goneOn: null,
})
const save = (links: FoundLink[], book = new AddressBook(graphId)): Promise<void> =>
  inTransaction(pool, db => saveLinks(db, graphId, book, seenByBits.file, links))
const linksTo = async (url: string): Promise<Array<[source: string, target: string]>> => {
  const target = await maybeTarget(pool, graphId, new URL(url).host, url)
  const list = await manyLinks(pool, target!, { follow: false, there: false, since: null }, null, 100)
  return list.map(each => [each.source, each.target] as [string, string]).sort()
}
const addresses = async (domain: string): Promise<string[]> =>
  (
    await pool.query<{ url: string }>(
      `select p.url from linked_page p join linked_site s on s.graph_id = 1 and s.id = p.site_id
       where p.graph_id = 1 and s.domain = $1 order by 1`,
      [domain],
    )
  ).rows.map(row => row.url)

describe('http and https, with tracking parameters and without, are one page', () => {
  const written = [
    link('http://a.example/', 'http://potter.example/kiln?size=2'),
    link('https://a.example/', 'https://potter.example/kiln?size=2&utm_source=mail'),
    link('https://b.example/', 'https://potter.example/kiln?size=2'),
    link('http://b.example/x', 'http://potter.example/other'),
  ]
  const expected = [
    ['http://a.example/', 'http://potter.example/kiln?size=2'],
    ['https://b.example/', 'https://potter.example/kiln?size=2'],
  ]

  test('links keep the addresses as they are written; two of one page to one page are one link', async () => {
    await save(written)
    expect(await addresses('potter.example')).toEqual([
      'http://potter.example/kiln?size=2',
      'http://potter.example/other',
    ])
    expect(await addresses('a.example')).toEqual(['http://a.example/'])
    for (const url of ['https://potter.example/kiln?size=2', 'http://potter.example/kiln?gclid=7&size=2'])
      expect(await linksTo(url)).toEqual(expected)
    expect((await manyPageLooks(pool, graphId, ['https://potter.example/kiln?size=2']))[0]).toMatchObject({
      url: 'https://potter.example/kiln?size=2',
      followed: 2,
    })
  })

  test('whoever brings them again, in whatever order and by however many books, brings nothing new', async () => {
    await save([...written].reverse())
    for (const each of written) await save([each])
    const book = new AddressBook(graphId)
    for (const each of [...written, ...written]) await save([each], book)
    expect(await addresses('potter.example')).toHaveLength(2)
    expect(await linksTo('https://potter.example/kiln?size=2')).toEqual(expected)
    const { rows } = await pool.query<{ url: string }>('select url from linked_page_address order by url')
    expect(rows.map(row => row.url)).toEqual([
      'https://a.example/',
      'https://potter.example/kiln?size=2',
      'https://potter.example/kiln?size=2&utm_source=mail',
    ])
  })

  test('hosts with and without www are two', async () => {
    await save([link('https://c.example/', 'https://www.potter.example/kiln?size=2')])
    expect(await addresses('potter.example')).toContain('https://www.potter.example/kiln?size=2')
    expect(await linksTo('https://potter.example/kiln?size=2')).toEqual(expected)
  })
})

describe('what a crawl finds', () => {
  const html =
    '<title>Kilns</title><p>All about kilns.<a href="http://turner.example/">home</a><a href="/wheel">wheel</a>'
  const at = new Date('2026-05-05T10:00:00Z')

  test('an address that leads to the other scheme says nothing of the page, whichever comes first', async () => {
    await save([link('https://d.example/', 'http://turner.example/')])
    const [first, then] = [
      moved('http://turner.example/', 'https://turner.example/'),
      read('https://turner.example/', html),
    ]
    for (const outcomes of [[first, then], [then, first], [first]])
      await savePages(pool, graphId, new AddressBook(graphId), outcomes, at)
    for (const url of ['http://turner.example/', 'https://turner.example/'])
      expect(await maybeContent(pool, graphId, url)).toMatchObject({ status: 200, title: 'Kilns', redirectTo: null })
    // The page bears the address of the link; what was read says where it was read.
    const { rows } = await pool.query<{ url: string }>(
      `select ${readAddress} url from linked_page p join page_content c on c.graph_id = p.graph_id and c.page_id = p.id
       where p.url = 'http://turner.example/'`,
    )
    expect(rows).toEqual([{ url: 'https://turner.example/' }])
    expect(await linksTo('https://turner.example/')).toEqual([['https://d.example/', 'http://turner.example/']])
    expect(await manyFetchTimes(pool, graphId, ['https://turner.example/', 'https://turner.example/none'])).toEqual(
      new Map([['https://turner.example/', at]]),
    )
  })

  test('a redirect to another page says where it leads, as it was written', async () => {
    await savePages(
      pool,
      graphId,
      new AddressBook(graphId),
      [
        moved('http://turner.example/old', 'https://turner.example/'),
        outcome('https://turner.example/gone', { status: 404 }),
      ],
      at,
    )
    expect(await maybeContent(pool, graphId, 'https://turner.example/old')).toMatchObject({
      status: 301,
      redirectTo: 'https://turner.example/',
    })
    expect(await maybeContent(pool, graphId, 'http://turner.example/gone')).toMatchObject({ status: 404 })
  })

  test('of two addresses the one that gave the page counts, then the one that answered, then the last', () => {
    const [gone, page] = [outcome('http://x.example/a', { status: 404 }), read('https://x.example/a', html)]
    const down = outcome('https://x.example/a', { state: 'failed', status: null, problem: 'No answer' })
    expect(onePerPage([page, gone]).answered).toEqual([page])
    expect(onePerPage([down, gone])).toEqual({ answered: [gone], unchanged: [], failed: [] })
    expect(onePerPage([gone, down])).toEqual({ answered: [gone], unchanged: [], failed: [] })
    expect(onePerPage([down, outcome('https://x.example/b', { unchanged: true })])).toMatchObject({
      unchanged: [{ url: 'https://x.example/b' }],
      failed: [down],
    })
  })
})
