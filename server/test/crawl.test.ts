import { brotliCompressSync, gzipSync } from 'node:zlib'
import { takeBackImport } from '@dew-trail/contract/imports'
import { listImports } from '@dew-trail/contract/sources'
import { archivePath, listCrawls, listCrawlErrors, readPage, startCrawl } from '@dew-trail/contract/crawl'
import { actOnJob } from '@dew-trail/contract/jobs'
import type { Site } from '@dew-trail/contract/sites'
import pg from 'pg'
import { afterAll, afterEach, beforeAll, describe, expect, test } from 'vitest'
import { WebClient, type WebError } from '../src/domain/pages/web-client.ts'
import { html, smallWeb, type WebPages } from './small-web.ts'
import { demoSite, type TestServer, testServer } from './test-server.ts'

let pages: WebPages = {}
let requests: string[]
let web: Awaited<ReturnType<typeof smallWeb>>
let server: TestServer
let site: Site
let db: pg.Client

beforeAll(async () => {
  web = await smallWeb(() => pages)
  requests = web.requests
  server = await testServer({
    CRAWL_PROXY: web.address,
    // Short, as one page never answers; long enough for a machine that does three things at once.
    CRAWL_TIMEOUT_MS: '4000',
    CRAWL_MAX_BYTES: '20000',
  })
  site = await demoSite(server)
  db = new pg.Client({ connectionString: server.databaseUrl })
  await db.connect()
})
afterEach(() => {
  pages = {}
  requests.length = 0
})
afterAll(async () => {
  await db.end()
  await server.close()
  web.close()
})

async function crawl(domain: string, more: { mostPages?: number; mostDepth?: number } = {}) {
  const { crawls } = await server.call(startCrawl, { siteId: site.id, domains: [domain], ...more })
  const job = await server.finish(crawls[0]!.jobId)
  return { ...crawls[0]!, job }
}
const contents = async (domain: string): Promise<Array<Record<string, any>>> =>
  (
    await db.query(
      `select p.url, c.* from page_content c join linked_page p on p.graph_id = c.graph_id and p.id = c.page_id
        join linked_site s on s.graph_id = 1 and s.id = p.site_id where s.domain = $1 order by p.url`,
      [domain],
    )
  ).rows
const links = async (source: string): Promise<Array<Record<string, any>>> =>
  (
    await db.query(
      `select t.url target, a.text anchor, l.rel, l.kind, l.region, l.gone_on, l.seen_by from link l
        join linked_page s on s.graph_id = 1 and s.id = l.source_page_id
       join linked_page t on t.graph_id = 1 and t.id = l.target_page_id
         join anchor_text a on a.graph_id = 1 and a.id = l.anchor_id where s.url = $1 order by t.url`,
      [source],
    )
  ).rows

describe('robots.txt', () => {
  test('what it forbids is not asked for, and says so; links with nofollow are kept but not gone on to', async () => {
    pages = {
      'rules.example/robots.txt': {
        body: 'User-agent: *\nDisallow: /private\nAllow: /private/open\nDisallow: /*?sort=\n',
      },
      'rules.example/': html(
        '<a href=/private/x>x</a><a href=/private/open>o</a><a href="/list?sort=1">l</a><a rel=nofollow href=/n>n</a>',
      ),
      'rules.example/private/open': html('open'),
    }
    const { crawlId } = await crawl('rules.example')
    expect(requests.filter(each => /private\/x|sort|\/n$/.test(each))).toEqual([])
    expect(requests).toContain('rules.example/private/open')
    const troubles = await server.call(listCrawlErrors, { siteId: site.id, crawlId })
    expect(troubles).toMatchObject({
      total: 2,
      pages: [
        { url: 'https://rules.example/list?sort=1', state: 'refused', problem: 'robots.txt does not allow it' },
        { url: 'https://rules.example/private/x', state: 'refused' },
      ],
    })
    expect((await links('https://rules.example/')).map(link => [link.target, link.rel])).toContainEqual([
      'https://rules.example/n',
      1,
    ])
  })
  test('a server that fails to give it is not crawled; one without it is', async () => {
    pages = { 'down.example/robots.txt': { status: 503 }, 'down.example/': html('never') }
    const { job } = await crawl('down.example')
    expect(requests).not.toContain('down.example/')
    expect(job.warnings[0]!.what).toContain('robots.txt of down.example cannot be read')
    pages = { 'free.example/': html('text') }
    await crawl('free.example')
    expect((await contents('free.example'))[0]).toMatchObject({ url: 'https://free.example/', status: 200 })
  })
  test('it is asked for once a day', async () => {
    pages = { 'once.example/robots.txt': { body: '' }, 'once.example/': html('a') }
    await crawl('once.example')
    await crawl('once.example')
    expect(requests.filter(each => each === 'once.example/robots.txt')).toHaveLength(1)
  })
})

describe('fetching', () => {
  test('gzip, brotli and charsets are read; other types are noted, not read', async () => {
    pages = {
      'forms.example/': html('<a href=/gzip>1</a><a href=/br>2</a><a href=/latin>3</a><a href=/doc>4</a>'),
      'forms.example/gzip': { headers: { 'content-encoding': 'gzip' }, body: gzipSync('<title>zipped</title>') },
      'forms.example/br': {
        headers: { 'content-encoding': 'br' },
        body: brotliCompressSync('<title>squeezed</title>'),
      },
      'forms.example/latin': {
        body: Buffer.from('<meta charset="iso-8859-1"><title>Töpfe</title>', 'latin1'),
      },
      'forms.example/doc': { headers: { 'content-type': 'application/pdf' }, body: '%PDF' },
    }
    await crawl('forms.example')
    expect((await contents('forms.example')).map(page => [page.url.slice(22), page.title, page.content_type])).toEqual([
      ['', null, 'text/html; charset=utf-8'],
      ['br', 'squeezed', 'text/html'],
      ['doc', null, 'application/pdf'],
      ['gzip', 'zipped', 'text/html'],
      ['latin', 'Töpfe', 'text/html'],
    ])
  })
  test('too large, too slow, spoilt and missing pages are told apart and keep nothing from the rest', async () => {
    pages = {
      'bad.example/': html(
        '<a href=/large>1</a><a href=/slow>2</a><a href=/spoilt>3</a><a href=/missing>4</a><a href=/good>5</a>',
      ),
      'bad.example/large': html('x'.repeat(30_000)),
      'bad.example/slow': { wait: true },
      'bad.example/spoilt': { headers: { 'content-encoding': 'gzip' }, body: 'no gzip at all' },
      'bad.example/good': html('fine'),
    }
    const { crawlId, job } = await crawl('bad.example')
    expect(job.state).toBe('done')
    const { pages: troubles } = await server.call(listCrawlErrors, { siteId: site.id, crawlId })
    const why = (path: string): string | undefined => troubles.find(page => page.url.endsWith(path))?.problem
    expect(why('/large')).toBe('The page is larger than 20 kB')
    expect(why('/slow')).toBe('bad.example did not answer within 4 s')
    expect(why('/spoilt')).toBe('bad.example sent a body that cannot be unpacked')
    expect((await contents('bad.example')).find(page => page.url.endsWith('/missing'))).toMatchObject({ status: 404 })
    expect((await contents('bad.example')).find(page => page.url.endsWith('/good'))).toMatchObject({ status: 200 })
  })
  test('a server that is overloaded is tried again when it said', async () => {
    pages = {
      'busy.example/': (_, times) =>
        times < 3 ? { status: 429, headers: { 'retry-after': '0' } } : html('now', '<title>now</title>'),
    }
    await crawl('busy.example')
    expect((await contents('busy.example'))[0]).toMatchObject({ status: 200, title: 'now' })
  })
  test('redirects are steps of their own: each is kept, loops end, other sites are not gone on to', async () => {
    pages = {
      'move.example/': { status: 301, headers: { location: 'http://www.move.example/' } },
      'www.move.example/': html('<a href=/loop>l</a><a href=/out>o</a>'),
      'www.move.example/loop': { status: 302, headers: { location: '/loop2' } },
      'www.move.example/loop2': { status: 302, headers: { location: '/loop' } },
      'www.move.example/out': { status: 301, headers: { location: 'https://else.example/' } },
    }
    await crawl('move.example')
    expect(requests.filter(each => each.endsWith('/loop'))).toHaveLength(1)
    expect(requests).not.toContain('else.example/')
    expect((await links('http://www.move.example/out')).map(link => [link.target, link.kind])).toEqual([
      ['https://else.example/', 2],
    ])
  })
  test('a page is asked whether it changed, and its links stay when it did not', async () => {
    const etag = '"v1"'
    pages = {
      'same.example/': request =>
        request.headers['if-none-match'] === etag
          ? { status: 304 }
          : {
              ...html('<a href="https://else.example/">there</a>', '<title>first</title>'),
              headers: { etag, 'content-type': 'text/html' },
            },
    }
    await crawl('same.example')
    await crawl('same.example')
    expect((await contents('same.example'))[0]).toMatchObject({ title: 'first', status: 200, etag })
    expect(await links('https://same.example/')).toMatchObject([{ target: 'https://else.example/', gone_on: null }])
  })
  test('a link that a later crawl does not find any more is gone, and back when it is', async () => {
    const with_ = html('<a href="https://else.example/a">a</a><a href="https://else.example/b">b</a>')
    pages = { 'gone.example/': with_ }
    await crawl('gone.example')
    pages['gone.example/'] = html('<a href="https://else.example/b">b</a>')
    await crawl('gone.example')
    expect((await links('https://gone.example/')).map(link => [link.anchor, link.gone_on !== null])).toEqual([
      ['a', true],
      ['b', false],
    ])
    pages['gone.example/'] = { status: 404 }
    await crawl('gone.example')
    expect((await links('https://gone.example/')).every(link => link.gone_on !== null)).toBe(true)
  })
  test('limits of pages and depth hold, and what is left is said', async () => {
    for (let i = 0; i < 30; i++) pages[`deep.example/${i || ''}`] = html(`<a href=/${i + 1}>on</a>`)
    const shallow = await crawl('deep.example', { mostDepth: 3 })
    expect(shallow.job.result).toMatchObject({ fetched: 4, left: 0 })
    const few = await crawl('deep.example', { mostPages: 2 })
    expect(few.job.result).toMatchObject({ fetched: 2, left: 1 })
  })
  test('sitemaps, plain, zipped and as an index, bring pages nothing links to', async () => {
    const entry = (path: string): string => `<url><loc>https://map.example${path}</loc></url>`
    pages = {
      'map.example/robots.txt': { body: 'Sitemap: https://map.example/index.xml' },
      'map.example/index.xml': {
        headers: { 'content-type': 'application/xml' },
        body: '<sitemapindex><sitemap><loc>https://map.example/part.xml.gz</loc></sitemap></sitemapindex>',
      },
      'map.example/part.xml.gz': {
        headers: { 'content-type': 'application/gzip' },
        body: gzipSync(
          `<urlset>${entry('/hidden?a=1&amp;b=2')}${entry('/second')}<url><loc>https://else.example/no</loc></url></urlset>`,
        ),
      },
      'map.example/': html('home'),
      'map.example/hidden?a=1&b=2': html('hidden'),
    }
    await crawl('map.example')
    expect(requests).toContain('map.example/hidden?a=1&b=2')
    expect(requests).not.toContain('else.example/no')
  })
})

test('a page as it was read can be asked for; one never asked for is unknown', async () => {
  pages = {
    'facts.example/': html(
      '<main><h1>Kilns</h1><p>Small ones <a rel=nofollow href="https://else.example/k">here</a></p></main>',
      '<title>Kilns</title><meta name=robots content=noarchive>',
    ),
  }
  await crawl('facts.example')
  expect(await server.call(readPage, { siteId: site.id, url: 'https://facts.example/#top' })).toMatchObject({
    title: 'Kilns',
    robots: ['noarchive'],
    headings: [{ level: 1, text: 'Kilns' }],
    text: 'Kilns\nSmall ones here',
    words: 4,
    links: [
      {
        url: 'https://else.example/k',
        anchor: 'here',
        rel: ['nofollow'],
        kind: 'text',
        region: 'content',
        around: 'Kilns Small ones [here]',
        goneOn: null,
      },
    ],
  })
  expect(await server.call(readPage, { siteId: site.id, url: 'https://facts.example/other' })).toBeNull()
  await expect(server.call(readPage, { siteId: site.id, url: 'nonsense' })).rejects.toMatchObject({ status: 400 })
})

describe('archives of pages', () => {
  const record = (url: string, date: string, head: string, body: string, type = 'response'): string => {
    const http = type === 'response' ? `${head}\r\n\r\n${body}` : body
    return `WARC/1.0\r\nWARC-Type: ${type}\r\nWARC-Target-URI: ${url}\r\nWARC-Date: ${date}\r\nWARC-Record-ID: <urn:uuid:${crypto.randomUUID()}>\r\nContent-Type: application/http; msgtype=response\r\nContent-Length: ${Buffer.byteLength(http)}\r\n\r\n${http}\r\n\r\n`
  }
  const ok = 'HTTP/1.1 200 OK\r\nContent-Type: text/html; charset=utf-8'
  const upload = (body: string | Buffer) =>
    server.raw(archivePath(site.id, 'a.warc'), { method: 'POST', body: body as never })
  const send = async (body: string | Buffer) => {
    const answer = await upload(body)
    expect(answer.status).toBe(200)
    return server.finish(answer.body.jobId)
  }
  const archive = [
    record('', '2024-05-01T10:00:00Z', '', 'software: test', 'warcinfo'),
    record(
      'https://old.example/',
      '2024-05-01T10:00:00Z',
      ok,
      '<title>Töpfe</title><a href="/b">b</a><a href="https://else.example/x">x</a>',
    ),
    record('https://old.example/m', '2024-05-01T10:00:01Z', 'HTTP/1.1 301 Moved\r\nLocation: /b', ''),
    record('https://old.example/b', '2024-05-01T10:00:02Z', ok, '<title>B</title>'),
  ]
  test.each(['plain', 'gzip'])('a %s archive is read as if fetched then; later reading stays', async form => {
    const body = form === 'plain' ? archive.join('') : Buffer.concat(archive.map(each => gzipSync(each)))
    const job = await send(body)
    expect(job).toMatchObject({ state: 'done', warnings: [] })
    expect(Number(job.result?.pages) + Number(job.result?.older)).toBe(3)
    const page = await server.call(readPage, { siteId: site.id, url: 'https://old.example/' })
    expect(page).toMatchObject({ title: 'Töpfe', fetchedAt: '2024-05-01T10:00:00.000Z' })
    expect(page!.links.map(link => link.url)).toEqual(['https://else.example/x', 'https://old.example/b'])
    expect(await server.call(readPage, { siteId: site.id, url: 'https://old.example/m' })).toMatchObject({
      status: 301,
      redirectTo: 'https://old.example/b',
    })
  })
  test('what our crawler read since is not overwritten', async () => {
    pages = { 'old.example/': html('now', '<title>now</title>') }
    await crawl('old.example')
    const job = await send(archive.join(''))
    expect(job.result).toMatchObject({ pages: 0, older: 3 })
    expect(await server.call(readPage, { siteId: site.id, url: 'https://old.example/' })).toMatchObject({
      title: 'now',
    })
  })
  test('can be taken back: its pages and links stand as before it, what was read since stays', async () => {
    pages = { 'twice.example/': html('<a href="https://else.example/now">x</a>', '<title>now</title>') }
    const at = (url: string, date: string, link: string) =>
      record(url, date, ok, `<title>${date.slice(0, 4)}</title><a href="https://else.example/${link}">x</a>`)
    await send(at('https://known.example/', '2023-05-01T10:00:00Z', 'first'))
    const body = [
      at('https://known.example/', '2024-05-01T10:00:00Z', 'second'),
      at('https://fresh.example/', '2024-05-01T10:00:00Z', 'fresh'),
      at('https://twice.example/', '2024-05-01T10:00:00Z', 'twice'),
      'WARC/1.0\r\nbroken',
    ]
    await send(body.join(''))
    const { importId, errors } = (await server.call(listImports, { siteId: site.id })).map(each => ({
      importId: each.id,
      errors: each.errors,
    }))[0]!
    expect(errors).toBe(1)
    await crawl('twice.example')
    const seen = async (url: string) => {
      const page = await server.call(readPage, { siteId: site.id, url })
      return page && [page.title, page.links.filter(link => link.goneOn === null).map(link => link.url.slice(21))]
    }
    const all = () =>
      Promise.all(['https://known.example/', 'https://fresh.example/', 'https://twice.example/'].map(seen))
    const taken = async (on: boolean) => {
      const { jobId } = await server.call(takeBackImport, { siteId: site.id, importId, on })
      return (await server.finish(jobId!)).result
    }
    const as = [
      ['2024', ['second']],
      ['2024', ['fresh']],
      ['now', ['now']],
    ]
    expect(await all()).toEqual(as)
    expect(await taken(true)).toMatchObject({ pages: 2 })
    expect(await all()).toEqual([['2023', ['first']], null, ['now', ['now']]])
    expect(await taken(false)).toMatchObject({ pages: 2 })
    expect(await all()).toEqual(as)
  })
  test('a file that is no archive is refused, one that breaks off keeps what came before', async () => {
    expect((await upload('just text')).body.error.message).toContain('no WARC archive')
    const whole = record('https://cut.example/', '2024-05-01T10:00:00Z', ok, '<title>first</title>')
    const cut = record('https://cut.example/2', '2024-05-01T10:00:00Z', ok, '<title>second</title>'.repeat(50)).slice(
      0,
      400,
    )
    await send(whole + cut)
    expect(await server.call(readPage, { siteId: site.id, url: 'https://cut.example/' })).toMatchObject({
      title: 'first',
    })
  })
})

describe('work that is interrupted', () => {
  test('a crawl paused in the middle goes on without asking again for what it has', async () => {
    for (let i = 0; i < 200; i++)
      pages[`pause.example/${i || ''}`] = html(Array.from({ length: 200 }, (_, k) => `<a href=/${k}>${k}</a>`).join(''))
    const { crawls } = await server.call(startCrawl, { siteId: site.id, domains: ['pause.example'], mostPages: 1_000 })
    const { jobId } = crawls[0]!
    while (requests.length < 60) await new Promise(resolve => setTimeout(resolve, 5))
    await server.call(actOnJob, { jobId, action: 'pause' })
    for (;;) {
      const job = (await server.call(listCrawls, { siteId: site.id })).find(each => each.jobId === jobId)!
      if (job.state === 'paused') break
      expect(job.state).not.toBe('done')
      await new Promise(resolve => setTimeout(resolve, 10))
    }
    const had = new Set((await contents('pause.example')).map(page => page.url))
    expect(had.size).toBeGreaterThan(0)
    requests.length = 0
    await server.call(actOnJob, { jobId, action: 'resume' })
    const job = await server.finish(jobId)
    expect(job.state).toBe('done')
    expect(requests.filter(each => had.has(`https://${each}`))).toEqual([])
    expect((await contents('pause.example')).filter(page => page.status === 200).length).toBe(200)
    const view = (await server.call(listCrawls, { siteId: site.id })).find(each => each.jobId === jobId)!
    expect(view.hosts).toEqual([{ host: 'pause.example', waiting: 0, fetched: 201, failed: 0, refused: 0 }])
  })
})

describe('safe by design', () => {
  test('without a proxy, loopback is refused by literal, by name and after a redirect, unless allowed', async () => {
    const { port } = new URL(web.address)
    const settings = { agent: 'x', proxy: null, proxyTunnel: false, timeoutMs: 1_000, maxBytes: 1_000 }
    const strict = new WebClient({ ...settings, allowPrivate: '' })
    const open = new WebClient({ ...settings, allowPrivate: '127.0.0.0/8, ::1/128' })
    const kindOf = (client: WebClient, url: string): Promise<string> =>
      client.ask(url).then(
        reply => String(reply.status),
        error => (error as WebError).kind,
      )
    pages['/'] = html('inside')
    try {
      expect(await kindOf(strict, `http://127.0.0.1:${port}/`)).toBe('unsafe')
      expect(await kindOf(strict, `http://[::ffff:7f00:1]:${port}/`)).toBe('unsafe')
      expect(await kindOf(strict, `http://localhost:${port}/`)).toBe('unsafe')
      expect(requests).toEqual([])
      expect(await kindOf(open, `http://localhost:${port}/`)).toBe('200')
    } finally {
      await strict.close()
      await open.close()
    }
  })
  test('a redirect to an inner address is refused by the crawl', async () => {
    pages = {
      'sly.example/': html('<a href=/go>go</a>'),
      'sly.example/go': { status: 302, headers: { location: 'http://169.254.169.254/latest' } },
    }
    await crawl('sly.example')
    expect(requests.some(each => each.includes('169.254'))).toBe(false)
  })
  test('a domain that is none is refused with a clear error', async () => {
    await expect(server.call(startCrawl, { siteId: site.id, domains: ['not a domain'] })).rejects.toMatchObject({
      status: 400,
    })
  })
})
