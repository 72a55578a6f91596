import { gzipSync } from 'node:zlib'
import { isoOf } from '../calendar.ts'
import { mix } from '../random.ts'
import type { Page } from '../world/pages.ts'
import type { Site } from '../world/sites.ts'
import { addressOf, standsOn, type World } from '../world/world.ts'
import { escapeHtml } from './render.ts'
import { siteWords } from './site-words.ts'

/** How a site tells crawlers what it has: not at all, in one file, or in an index of zipped parts. */
export const sitemapForm = (world: World, site: Site): 'none' | 'plain' | 'index' =>
  world.pagesOfSite[site.id]!.length > 120 || site.kind === 'own'
    ? 'index'
    : mix(world.seed, site.id, 171) % 4 === 0
      ? 'none'
      : 'plain'

/** robots.txt (RFC 9309), null where the site has none. */
export function robotsText(world: World, site: Site): string | null {
  const draw = mix(world.seed, site.id, 172)
  if (site.kind === 'studio' && draw % 5 === 0) return null
  const origin = `${site.secure ? 'https' : 'http'}://${site.host}`
  const basket = siteWords[site.language].basket
  const lines = [
    '# who may read what',
    'User-agent: *',
    `Disallow: ${basket}`,
    'Disallow: /search',
    'Disallow: /*?sort=',
    'Allow: /search/help',
  ]
  if (draw % 6 === 1) lines.push('Disallow: /old/', 'Crawl-delay: 1')
  lines.push('', 'User-agent: greedybot', 'User-agent: copybot', 'Disallow: /')
  if (sitemapForm(world, site) !== 'none')
    lines.push('', `Sitemap: ${origin}/${sitemapForm(world, site) === 'index' ? 'sitemap-index.xml' : 'sitemap.xml'}`)
  return `${lines.join(draw % 3 ? '\n' : '\r\n')}\n`
}

const perPart = 50
const listed = (world: World, site: Site, day: number): Page[] =>
  world.pagesOfSite[site.id]!.filter(
    page =>
      page.born <= day &&
      !page.onSecondHost &&
      // A careless sitemap still lists pages that are gone.
      (standsOn(page, day) || mix(world.seed, page.id, 173) % 3 === 0) &&
      mix(world.seed, page.id, 174) % 12 !== 0,
  )

function sitemapXml(world: World, pages: Page[], day: number): string {
  const entries = pages
    .map(
      page =>
        `<url><loc>${escapeHtml(addressOf(world, page))}</loc><lastmod>${isoOf(Math.min(day, page.updated <= day ? page.updated : page.born))}</lastmod></url>`,
    )
    .join('\n')
  return `<?xml version="1.0" encoding="UTF-8"?>\n<urlset xmlns="http://www.sitemaps.org/schemas/sitemap/0.9">\n${entries}\n</urlset>\n`
}

/** One of a site's sitemap files, by its path; parts of an index are gzip files. */
export function sitemapFile(
  world: World,
  site: Site,
  path: string,
  day: number,
): { body: string | Buffer; type: string } | null {
  const form = sitemapForm(world, site)
  if (form === 'plain' && path === '/sitemap.xml')
    return { body: sitemapXml(world, listed(world, site, day), day), type: 'application/xml' }
  if (form !== 'index') return null
  const pages = listed(world, site, day)
  const parts = Math.max(1, Math.ceil(pages.length / perPart))
  if (path === '/sitemap-index.xml') {
    const origin = `${site.secure ? 'https' : 'http'}://${site.host}`
    const entries = Array.from(
      { length: parts },
      (_, i) => `<sitemap><loc>${origin}/sitemaps/part-${i + 1}.xml.gz</loc><lastmod>${isoOf(day)}</lastmod></sitemap>`,
    ).join('\n')
    return {
      body: `<?xml version="1.0" encoding="UTF-8"?>\n<sitemapindex xmlns="http://www.sitemaps.org/schemas/sitemap/0.9">\n${entries}\n</sitemapindex>\n`,
      type: 'application/xml',
    }
  }
  const part = Number(/^\/sitemaps\/part-(\d+)\.xml\.gz$/.exec(path)?.[1] ?? 0)
  if (part < 1 || part > parts) return null
  return {
    body: gzipSync(sitemapXml(world, pages.slice((part - 1) * perPart, part * perPart), day)),
    type: 'application/gzip',
  }
}
