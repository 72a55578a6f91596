import { isoOf } from '../calendar.ts'
import { mix, textHash, unit } from '../random.ts'
import type { Site } from '../world/sites.ts'
import { addressOf, standsOn, type World } from '../world/world.ts'
import { type Document, documentOf, inside, navigationOf } from './document.ts'
import { escapeHtml, renderHtml } from './render.ts'
import { robotsText, sitemapFile } from './site-files.ts'
import { archivePath, pagesPerArchive, siteWords } from './site-words.ts'

export type WebReply = {
  status: number
  type: string
  body: string | Buffer
  headers: Record<string, string>
  /** How long the site takes before it answers, in milliseconds. */
  delayMs: number
}
const html = 'text/html'
const reply = (status: number, body: string | Buffer, type = html, headers: Record<string, string> = {}): WebReply => ({
  status,
  type,
  body,
  headers,
  delayMs: 0,
})
const moved = (status: number, location: string): WebReply =>
  reply(status, `<html><body>Moved to <a href="${escapeHtml(location)}">here</a></body></html>`, html, { location })

/** What the web answers to one address on a day. `url` is absolute. */
export function serveWeb(world: World, url: URL, day: number): WebReply {
  const site = world.byHost.get(url.hostname)
  if (!site || site.registered > day) return reply(502, `No such host: ${url.hostname}\n`, 'text/plain')
  const answer = serveSite(world, site, url, day)
  const slowPage = unit(world.seed, site.id, textHash(url.pathname), 181) < 0.008
  answer.delayMs = site.slowMs + (slowPage ? 2_500 : 0)
  return answer
}

function serveSite(world: World, site: Site, url: URL, day: number): WebReply {
  const origin = `${site.secure ? 'https' : 'http'}://${site.host}`
  const path = decodeSafely(url.pathname)
  if (site.redirectsTo) {
    const to = world.byDomain.get(site.redirectsTo)!
    return moved(301, `${to.secure ? 'https' : 'http'}://${to.host}/`)
  }
  const rightHost = url.hostname === site.host || url.hostname === site.secondHost
  if (!rightHost || url.protocol !== (site.secure ? 'https:' : 'http:'))
    return moved(
      301,
      `${site.secure ? 'https' : 'http'}://${rightHost ? url.hostname : site.host}${url.pathname}${url.search}`,
    )
  if (path === '/robots.txt') {
    const text = robotsText(world, site)
    return text === null ? notFound(site) : reply(200, text, 'text/plain')
  }
  if (url.hostname === site.host) {
    const file = sitemapFile(world, site, path, day)
    if (file) return reply(200, file.body, file.type)
    if (site.kind === 'own' && path === '/changelog.csv')
      return reply(
        200,
        `date,subject,note\n${world.changes
          .filter(change => change.day <= day)
          .map(change => `${isoOf(change.day)},${change.group},${change.note}\n`)
          .join('')}`,
        'text/csv',
      )
    const plain = plainPage(world, site, path, day)
    if (plain) return reply(200, renderHtml(plain))
  }
  const page = world.pageByAddress.get(`${url.protocol}//${url.hostname}${path}`)
  if (page && page.born <= day) {
    if (!standsOn(page, day)) return page.id % 3 === 0 ? reply(410, '<h1>Gone</h1>') : notFound(site)
    if (unit(world.seed, page.id, day, 182) < 0.004)
      return reply(500, '<h1>Internal error</h1>', html, { 'retry-after': '30' })
    const document = documentOf(world, page, day)
    const modified = new Date(document.modified * 86_400_000).toUTCString()
    const headers: Record<string, string> = {
      'last-modified': modified,
      etag: `"${mix(world.seed, page.id, document.modified).toString(36)}"`,
    }
    if (mix(world.seed, page.id, 183) % 61 === 0) headers['x-robots-tag'] = 'noarchive'
    return reply(200, renderHtml(document), html, headers)
  }
  const old = /^\/old\/(\d+)\.html$/.exec(path)
  const target = old ? world.pages[Number(old[1])] : undefined
  if (target && target.site === site.id && target.oldPath) {
    // Some were moved twice.
    if (target.id % 5 === 0) return moved(302, `${origin}/go/${target.id}`)
    return moved(301, addressOf(world, target))
  }
  const go = /^\/go\/(\d+)$/.exec(path)
  const last = go ? world.pages[Number(go[1])] : undefined
  if (last && last.site === site.id) return moved(301, addressOf(world, last))
  if (path === '/loop/a') return moved(302, `${origin}/loop/b`)
  if (path === '/loop/b') return moved(302, `${origin}/loop/a`)
  if (path === '/files/catalogue.pdf') return reply(200, '%PDF-1.4\n%%EOF\n', 'application/pdf')
  return notFound(site)
}

const notFound = (site: Site): WebReply =>
  reply(404, `<!doctype html><title>404</title><h1>${site.language === 'de' ? 'Nicht gefunden' : 'Not found'}</h1>`)

function decodeSafely(path: string): string {
  try {
    return decodeURIComponent(path)
  } catch {
    return path
  }
}

/** Pages that every site has: about, contact, privacy, basket, and lists of all its pages. */
function plainPage(world: World, site: Site, path: string, day: number): Document | null {
  const { language } = site
  const words = siteWords[language]
  const url = `${site.secure ? 'https' : 'http'}://${site.host}${path}`
  const make = (heading: string, paragraphs: string[]): Document => ({
    url,
    site,
    language,
    title: `${heading} – ${site.name}`,
    description: null,
    robots: null,
    canonical: url,
    alternates: [],
    modified: Math.min(day, site.registered + 30),
    heading,
    blocks: [{ paragraphs, links: [] }],
    navigation: navigationOf(world, site, language, url),
    sidebar: [],
    footer: [inside(site, url, words.contact, words.contactText, 'footer')],
    broken: null,
    template: mix(world.seed, site.id, 164) % 6,
  })
  if (path === words.about) return make(words.aboutText, [`${site.name}: ${site.owner}, ${site.street}.`])
  if (path === words.contact)
    return make(words.contactText, [
      `${site.owner}`,
      `${site.street}, ${site.city ?? ''}`,
      `${site.phone}`,
      `${site.email}`,
    ])
  if (path === words.privacy) return make(words.privacyText, [`${site.name} keeps no more than it needs.`])
  if (path === words.basket) return make(words.basketText, ['0'])
  const number = Number(/^\/(?:all|alle)\/(\d+)$/.exec(path)?.[1] ?? 0)
  if (number < 1 || path !== archivePath(language, number)) return null
  const pages = world.pagesOfSite[site.id]!.slice(1)
  if ((number - 1) * pagesPerArchive >= Math.max(1, pages.length)) return null
  const document = make(`${words.all} ${number}`, [])
  for (const page of pages.slice((number - 1) * pagesPerArchive, number * pagesPerArchive))
    if (standsOn(page, day))
      document.blocks[0]!.links.push({
        href: addressOf(world, page),
        url: addressOf(world, page),
        anchor: page.title,
        rel: '',
        kind: 'text',
        region: 'list',
      })
  if (number * pagesPerArchive < pages.length)
    document.blocks[0]!.links.push(inside(site, url, archivePath(language, number + 1), words.next, 'list'))
  document.robots = number > 1 ? 'noindex, follow' : null
  return document
}

/** A text in a site's charset; letters the charset lacks become numeric references, as authors wrote them. */
export function encodeBody(
  body: string | Buffer,
  site: Site | undefined,
  type: string,
): { body: Buffer; type: string } {
  if (typeof body !== 'string') return { body, type }
  if (site?.charset === 'iso-8859-1' && type === html)
    return {
      body: Buffer.from(
        body.replace(/\P{ASCII}/gu, char => (char > 'ÿ' ? `&#${char.codePointAt(0)};` : char)),
        'latin1',
      ),
      type: `${type}; charset=iso-8859-1`,
    }
  return { body: Buffer.from(body, 'utf8'), type: type.startsWith('text/') ? `${type}; charset=utf-8` : type }
}
