import { listCrawls, readPage, startCrawl } from '@dew-trail/contract/crawl'
import type { Site } from '@dew-trail/contract/sites'
import { afterAll, afterEach, beforeAll, describe, expect, test } from 'vitest'
import { html, smallWeb, type WebPages } from './small-web.ts'
import { demoSite, type TestServer, testServer } from './test-server.ts'

let pages: WebPages = {}
let web: Awaited<ReturnType<typeof smallWeb>>
let server: TestServer
let site: Site
beforeAll(async () => {
  web = await smallWeb(() => pages)
  server = await testServer({ CRAWL_PROXY: web.address, CRAWL_TIMEOUT_MS: '2000' })
  site = await demoSite(server)
})
afterEach(() => {
  pages = {}
  web.requests.length = 0
})
afterAll(async () => {
  await server.close()
  web.close()
})

async function crawl(domain: string) {
  const { crawls } = await server.call(startCrawl, { siteId: site.id, domains: [domain], mostPages: 50 })
  return { domain: crawls[0]!.domain, job: await server.finish(crawls[0]!.jobId) }
}
const facts = (url: string) => server.call(readPage, { siteId: site.id, url })

describe('a crawl', () => {
  test('of pages that hold what no database can is whole', async () => {
    pages = {
      'odd.example/': html(
        '<h1>a\u0000b &#0; &#xD800;</h1><a href="/x\u0000y">an\u0000chor</a><a href=/next>next</a>',
        '<title>t\u0000</title><meta name=description content="d\u0000">',
      ),
      'odd.example/next': {
        headers: { 'content-type': 'text/html; charset=utf-16le' },
        body: Buffer.from('<title>half \ud800</title><p>words', 'utf16le'),
      },
    }
    const { job } = await crawl('odd.example')
    expect(job).toMatchObject({ state: 'done', error: null })
    expect((await facts('https://odd.example/'))!.headings[0]!.text).toMatch(/^a.?b/)
    expect((await facts('https://odd.example/next'))!.title).toMatch(/^half/)
  })

  test('asked for twice at once is one', async () => {
    pages = { 'once.example/': html('once') }
    const input = { siteId: site.id, domains: ['once.example'], mostPages: 5 }
    const [first, second] = await Promise.all([server.call(startCrawl, input), server.call(startCrawl, input)])
    expect(second.crawls).toEqual(first.crawls)
    await server.finish(first.crawls[0]!.jobId)
    expect(
      (await server.call(listCrawls, { siteId: site.id })).filter(each => each.domain === 'once.example'),
    ).toHaveLength(1)
  })

  test('of a name below a private suffix is of that name alone', async () => {
    pages = {
      'kiln.github.io/': html('<a href=/a>a</a><a href="http://other.github.io/">other</a>'),
      'kiln.github.io/a': html('a'),
    }
    expect((await crawl('https://kiln.github.io/')).domain).toBe('kiln.github.io')
    expect(web.requests.some(each => each.startsWith('github.io') || each.startsWith('other.'))).toBe(false)
    expect((await facts('https://kiln.github.io/a'))!.text).toBe('a')
  })

  test('takes what a proxy on the way changed (203) for an answer, of pages, sitemaps and robots.txt', async () => {
    const answer = (body: string, type = 'text/html') => ({ status: 203, headers: { 'content-type': type }, body })
    pages = {
      'proxied.example/robots.txt': answer('User-agent: *\nDisallow: /no\n', 'text/plain'),
      'proxied.example/sitemap.xml': answer(
        '<urlset><url><loc>http://proxied.example/map</loc></url></urlset>',
        'application/xml',
      ),
      'proxied.example/': answer('<p>home <a href=/no>no</a>'),
      'proxied.example/map': answer('<p>map'),
    }
    await crawl('proxied.example')
    expect((await facts('http://proxied.example/map'))!.text).toBe('map')
    expect(web.requests).not.toContain('proxied.example/no')
  })

  test('keeps to the first 500 KiB of a huge robots.txt', async () => {
    pages = {
      'huge.example/robots.txt': {
        headers: { 'content-type': 'text/plain' },
        body: `User-agent: *\nDisallow: /no\n${'# filler\n'.repeat(900_000)}`,
      },
      'huge.example/': html('<a href=/no>no</a><a href=/yes>yes</a>'),
      'huge.example/yes': html('yes'),
    }
    await crawl('huge.example')
    expect(web.requests).toContain('huge.example/yes')
    expect(web.requests).not.toContain('huge.example/no')
  })

  test('reads XHTML as UTF-8, or as it declares', async () => {
    const xhtml = (body: Buffer) => ({ headers: { 'content-type': 'application/xhtml+xml' }, body })
    const page = (head: string) =>
      `${head}<html xmlns="http://www.w3.org/1999/xhtml"><head><title>Größe</title><script/></head><body><p>Töpfe</p></body></html>`
    pages = {
      'xml.example/': html('<a href=/a>a</a><a href=/b>b</a>'),
      'xml.example/a': xhtml(Buffer.from(page(''))),
      'xml.example/b': xhtml(Buffer.from(page('<?xml version="1.0" encoding="iso-8859-1"?>'), 'latin1')),
    }
    await crawl('xml.example')
    for (const name of ['a', 'b'])
      expect(await facts(`https://xml.example/${name}`)).toMatchObject({ title: 'Größe', text: 'Töpfe' })
  })
})
