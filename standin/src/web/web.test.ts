import { request } from 'node:http'
import { connect } from 'node:net'
import { brotliDecompressSync, gunzipSync } from 'node:zlib'
import { describe, expect, test } from 'vitest'
import { dayOf } from '../calendar.ts'
import { Faults, parseFaults } from '../faults.ts'
import { listening } from '../../test/listening.ts'
import { createStandin } from '../server.ts'
import { addressOf, makeWorld, standsOn } from '../world/world.ts'
import { documentOf } from './document.ts'
import { robotsText, sitemapForm } from './site-files.ts'

const today = dayOf('2026-11-20')
const world = makeWorld(7, 0.5, today)
const faults = new Faults(7, [])
const { port } = listening(createStandin(world, { faults, throttled: false, key: 'k' }))

type Got = { status: number; headers: Record<string, string | string[] | undefined>; body: Buffer }
/** Asks for an address as through a proxy: absolute form, no redirects followed. */
const get = (url: string, headers: Record<string, string> = {}, method = 'GET'): Promise<Got> =>
  new Promise((resolve, reject) => {
    const requests = request(
      { port: port(), path: url, method, headers: { host: new URL(url).host, ...headers } },
      response => {
        const chunks: Buffer[] = []
        response.on('data', chunk => chunks.push(chunk))
        response.on('end', () =>
          resolve({ status: response.statusCode!, headers: response.headers, body: Buffer.concat(chunks) }),
        )
        response.on('error', reject)
      },
    )
    requests.on('error', reject)
    requests.end()
  })
const live = world.pages.filter(page => standsOn(page, today) && page.head >= 0)
const good = live.filter(page => documentOf(world, page, today).broken === null)
const siteWith = (test: (site: (typeof world.sites)[number]) => boolean) => world.sites.find(test)!
const home = (domain: string): string => addressOf(world, world.pagesOfSite[world.byDomain.get(domain)!.id]![0]!)

describe('pages', () => {
  test('hold every link of their record exactly once, title and description as recorded', async () => {
    for (const page of good.filter((_, i) => i % 97 === 0)) {
      const document = documentOf(world, page, today)
      const got = await get(document.url)
      if (got.status === 500) continue
      const html = got.body.toString(document.site.charset === 'utf-8' ? 'utf8' : 'latin1')
      const links = [
        ...document.navigation,
        ...document.blocks.flatMap(block => block.links),
        ...document.sidebar,
        ...document.footer,
      ]
      const anchors = html.replace(/<script[\s\S]*?<\/script>/g, '').match(/<(a href|iframe src)=/g) ?? []
      expect(anchors.length, document.url).toBe(links.length)
      for (const link of links) expect(html).toContain(link.href.replaceAll('&', '&amp;'))
      expect(html.toLowerCase()).toContain('<title>')
      if (document.canonical) expect(html).toContain(`<link rel="canonical" href="${document.canonical}">`)
    }
  })
  test('speak about their subject, in sentences that differ from page to page', () => {
    const words = (text: string): string[] => text.toLowerCase().match(/[\p{L}\p{N}]+/gu) ?? []
    const shingles = (id: number): Set<string> => {
      const list = words(
        documentOf(world, world.pages[id]!, today)
          .blocks.flatMap(block => block.paragraphs)
          .join(' '),
      )
      return new Set(list.slice(4).map((_, i) => list.slice(i, i + 5).join(' ')))
    }
    const shared = (a: Set<string>, b: Set<string>): number => {
      const common = [...a].filter(each => b.has(each)).length
      return common / (a.size + b.size - common)
    }
    const about = live.filter(page => page.head === 0 && page.copyOf < 0 && page.kind !== 'thread').slice(0, 12)
    for (const page of about) {
      const text = documentOf(world, page, today)
        .blocks.flatMap(block => block.paragraphs)
        .join(' ')
      expect(text.toLowerCase()).toContain(page.phrase)
      expect(text).not.toMatch(/[[\]{}|]|undefined/)
    }
    const sets = about.map(page => shingles(page.id))
    for (let i = 0; i < sets.length; i++)
      for (let j = 0; j < i; j++) expect(shared(sets[i]!, sets[j]!)).toBeLessThan(0.25)
    const copies = live.filter(page => page.copyOf >= 0).slice(0, 10)
    expect(copies.length).toBeGreaterThan(3)
    const alike = copies.map(page => shared(shingles(page.id), shingles(page.copyOf)))
    expect(alike.reduce((a, b) => a + b, 0) / alike.length).toBeGreaterThan(0.6)
  })
  test('of the second language name their twin, and the twin them', () => {
    const paired = world.pages.filter(page => page.twin !== undefined && page.language === 'de')
    expect(paired.length).toBeGreaterThan(2)
    for (const page of paired.slice(0, 5)) {
      const both = [page, world.pages[page.twin!]!].map(each => documentOf(world, each, today).alternates)
      expect(both[1]).toEqual(expect.arrayContaining(both[0]!.filter(each => each.language !== 'x-default')))
      expect(both[0]!.map(each => each.language).sort()).toEqual(['de', 'en', 'x-default'])
    }
  })
  test('taken down are gone, moved ones lead on, loops loop, strangers have no host', async () => {
    const gone = world.pages.filter(page => page.gone && page.gone < today).slice(0, 6)
    for (const page of gone) expect([404, 410]).toContain((await get(addressOf(world, page))).status)
    const moved = live.find(page => page.oldPath && page.id % 5 !== 0)!
    expect(await get(addressOf(world, moved, true).replace(/archive\.|blog\.|sellers\./, ''))).toMatchObject({
      status: 301,
    })
    const twice = live.find(page => page.oldPath && page.id % 5 === 0 && !page.onSecondHost)!
    const first = await get(addressOf(world, twice, true))
    expect(first.status).toBe(302)
    expect((await get(String(first.headers.location))).headers.location).toBe(addressOf(world, twice))
    const origin = new URL(home('bazaarbay.example')).origin
    expect((await get(`${origin}/loop/a`)).headers.location).toBe(`${origin}/loop/b`)
    expect((await get(`${origin}/loop/b`)).headers.location).toBe(`${origin}/loop/a`)
    expect((await get('https://nobody-here.example/')).status).toBe(502)
  })
  test('of the wrong scheme or host name lead to the right one; a bought domain leads to its buyer', async () => {
    const site = siteWith(each => each.secure && each.host.startsWith('www.'))
    expect((await get(`http://${site.host}/about`)).headers.location).toBe(`https://${site.host}/about`)
    expect((await get(`https://${site.domain}/`)).headers.location).toBe(`https://${site.host}/`)
    expect((await get('https://claycentral.example/any')).headers.location).toContain('potteryparcel.example')
  })
})

describe('the way they are served', () => {
  const page = good.find(each => world.sites[each.site]!.charset === 'utf-8' && !world.sites[each.site]!.redirectsTo)!
  test('unchanged pages answer 304, HEAD has no body, other methods are refused', async () => {
    const url = addressOf(world, page)
    const first = await get(url)
    expect(first.status).toBe(200)
    const again = await get(url, { 'if-none-match': String(first.headers.etag) })
    expect([again.status, again.body.length]).toEqual([304, 0])
    expect((await get(url, { 'if-modified-since': String(first.headers['last-modified']) })).status).toBe(304)
    expect((await get(url, { 'if-modified-since': 'Mon, 01 Jan 1990 00:00:00 GMT' })).status).toBe(200)
    const head = await get(url, {}, 'HEAD')
    expect([head.status, head.body.length]).toEqual([200, 0])
    expect(Number(head.headers['content-length'])).toBe(first.body.length)
    expect((await get(url, {}, 'DELETE')).status).toBe(405)
  })
  test('gzip and brotli come where they are asked for and unpack to the same page', async () => {
    const seen = new Set<string>()
    for (const each of [0, 1, 2].map(rest => good.find(other => other.site % 3 === rest)!)) {
      const url = addressOf(world, each)
      const plain = await get(url)
      const packed = await get(url, { 'accept-encoding': 'gzip, br' })
      const coding = String(packed.headers['content-encoding'])
      seen.add(coding)
      expect((coding === 'br' ? brotliDecompressSync(packed.body) : gunzipSync(packed.body)).equals(plain.body)).toBe(
        true,
      )
    }
    expect([...seen].sort()).toEqual(['br', 'gzip'])
  })
  test('some German sites speak ISO 8859-1, and say so', async () => {
    const site = [7, 8, 9, 10, 11]
      .map(seed => makeWorld(seed, 0.1, today))
      .flatMap(each => each.sites)
      .find(each => each.charset === 'iso-8859-1')
    expect(site?.language).toBe('de')
    const own = world.sites.find(each => each.charset === 'iso-8859-1')
    if (!own) return
    const got = await get(
      addressOf(world, world.pagesOfSite[own.id]!.find(each => standsOn(each, today) && each.head >= 0)!),
    )
    expect(got.headers['content-type']).toContain('iso-8859-1')
    expect(got.body.toString('latin1')).not.toContain('Ã')
  })
  test('the Host header alone is enough, and a tunnel to port 80 reaches the same site', async () => {
    const answer = await new Promise<string>(resolve => {
      const requests = request(
        { port: port(), path: '/robots.txt', headers: { host: 'kilnandtide.example' } },
        response => {
          response.setEncoding('utf8')
          let text = ''
          response.on('data', chunk => {
            text += chunk
          })
          response.on('end', () => resolve(text))
        },
      )
      requests.end()
    })
    expect(answer).toContain('User-agent: *')
    const tunnelled = await new Promise<string>((resolve, reject) => {
      const socket = connect(port(), '127.0.0.1', () =>
        socket.write('CONNECT kilnandtide.example:80 HTTP/1.1\r\nHost: kilnandtide.example:80\r\n\r\n'),
      )
      let text = ''
      socket.on('error', reject)
      socket.on('data', chunk => {
        const first = text === ''
        text += chunk
        if (first) socket.write('GET /robots.txt HTTP/1.1\r\nHost: kilnandtide.example\r\nConnection: close\r\n\r\n')
      })
      socket.on('end', () => resolve(text))
    })
    expect(tunnelled).toContain('200 Connection established')
    expect(tunnelled).toContain('User-agent: *')
  })
  test.each([
    ['serverError', 503],
    ['tooMany', 429],
  ])('fault %s answers %d', async (kind, status) => {
    faults.list = parseFaults(`web:${kind}:1`)
    const got = await get(addressOf(world, page))
    faults.list = []
    expect(got.status).toBe(status)
  })
  test('a truncated body ends before its length', async () => {
    faults.list = parseFaults('web:truncated:1')
    await expect(get(addressOf(world, page))).rejects.toThrow()
    faults.list = []
  })
})

describe('files of a site', () => {
  test('robots.txt says what is not for crawlers; some sites have none', async () => {
    const text = robotsText(world, world.own)!
    expect(text).toMatch(/User-agent: \*\r?\nDisallow: \/basket/)
    expect(text).toContain('Sitemap: https://kilnandtide.example/sitemap-index.xml')
    expect((await get('https://kilnandtide.example/robots.txt')).headers['content-type']).toContain('text/plain')
  })
  test('a sitemap index leads through zipped parts to pages of the site', async () => {
    const index = (await get('https://kilnandtide.example/sitemap-index.xml')).body.toString()
    const parts = [...index.matchAll(/<loc>(.*?)<\/loc>/g)].map(match => match[1]!)
    expect(parts.length).toBeGreaterThan(0)
    const addresses: string[] = []
    for (const part of parts)
      addresses.push(
        ...[
          ...gunzipSync((await get(part)).body)
            .toString()
            .matchAll(/<loc>(.*?)<\/loc>/g),
        ].map(match => match[1]!),
      )
    expect(addresses.length).toBeGreaterThan(30)
    for (const url of addresses) expect(world.pageByAddress.get(url)?.site).toBe(world.own.id)
    const plain = siteWith(each => sitemapForm(world, each) === 'plain' && !each.redirectsTo)
    const origin = `${plain.secure ? 'https' : 'http'}://${plain.host}`
    expect((await get(`${origin}/sitemap.xml`)).body.toString()).toContain('<urlset')
  })
  test('every standing page can be reached by links from the home page', async () => {
    const seen = new Set<string>()
    const open = [home('mudandfire.example')]
    for (let url = open.pop(); url; url = open.pop()) {
      if (seen.has(url)) continue
      seen.add(url)
      const html = (await get(url)).body.toString()
      for (const [, href] of html.matchAll(/<a href=["']([^"']+)["']/g)) {
        const next = new URL(href!.replaceAll('&amp;', '&'), url)
        if (next.hostname === 'mudandfire.example' && !next.search) open.push(next.href)
      }
    }
    const site = world.byDomain.get('mudandfire.example')!
    for (const page of world.pagesOfSite[site.id]!)
      if (standsOn(page, today)) expect(seen, addressOf(world, page)).toContain(addressOf(world, page))
  })
  test('the own site lists what it changed, up to today', async () => {
    const lines = (await get('https://kilnandtide.example/changelog.csv')).body.toString().trim().split('\n')
    expect(lines.length).toBeGreaterThan(5)
    for (const line of lines.slice(1)) expect(dayOf(line.slice(0, 10))).toBeLessThanOrEqual(today)
  })
})
