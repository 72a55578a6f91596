import { isoOf } from '../calendar.ts'
import { mix, Stream, unit } from '../random.ts'
import { type Section, writePage } from '../text/write.ts'
import { anchorOf, linkedAddress } from '../world/anchors.ts'
import { linkKind, linkRegion } from '../world/links.ts'
import type { Page } from '../world/pages.ts'
import type { Site } from '../world/sites.ts'
import type { Language } from '../world/vocabulary.ts'
import { addressOf, standsOn, type World } from '../world/world.ts'
import { archivePath, pagesPerArchive, siteWords } from './site-words.ts'

export type Region = 'navigation' | 'content' | 'sidebar' | 'footer' | 'comment' | 'list'
export type DocumentLink = {
  /** As written in the page, possibly relative. */
  href: string
  /** Where it leads, absolute. */
  url: string
  anchor: string
  rel: string
  kind: 'text' | 'image' | 'frame'
  region: Region
}
export type Block = Section & { links: DocumentLink[] }
/** Everything an HTML page is rendered from, and at the same time the record that a crawl of it is checked against. */
export type Document = {
  url: string
  site: Site
  language: Language
  title: string
  description: string | null
  robots: string | null
  canonical: string | null
  alternates: Array<{ language: string; url: string }>
  modified: number
  heading: string
  blocks: Block[]
  navigation: DocumentLink[]
  sidebar: DocumentLink[]
  footer: DocumentLink[]
  /** How the page is spoilt on purpose, if it is. */
  broken: 'cut off' | 'unclosed' | null
  template: number
}

const rels = ['', 'nofollow', 'sponsored', 'ugc nofollow']
const regions: Region[] = ['content', 'footer', 'sidebar', 'comment', 'list']

/** Which of a page's texts stands on a day: the own site cut or extended some. */
function textLevel(world: World, page: Page, day: number): -1 | 0 | 1 {
  if (page.site !== world.own.id || page.head < 0) return 0
  let level = 0
  for (const change of world.changes)
    if (change.day <= day && change.group === world.heads[page.head]!.group)
      level += change.what === 'more text' ? 1 : change.what === 'less text' ? -1 : 0
  return Math.sign(level) as -1 | 0 | 1
}

/** The title on a day: before its titles were first rewritten, the own site named only the subject. */
export function titleOn(world: World, page: Page, day: number): string {
  if (page.site !== world.own.id || page.head < 0) return page.title
  const head = world.heads[page.head]!
  const first = world.changes.find(change => change.what === 'titles' && change.group === head.group)
  return first && first.day > day
    ? `${head.name.charAt(0).toUpperCase()}${head.name.slice(1)} | ${world.own.name}`
    : page.title
}

const brokenOf = (world: World, page: Page): Document['broken'] => {
  const draw = unit(world.seed, page.id, 161)
  return page.head < 0 || draw > 0.025 ? null : draw < 0.008 ? 'cut off' : 'unclosed'
}

/** The page as it stands on a day, with every link that is there on that day. */
export function documentOf(world: World, page: Page, day: number): Document {
  const site = world.sites[page.site]!
  const url = addressOf(world, page)
  const { heading, sections } = writePage(world, page, textLevel(world, page, day))
  const blocks: Block[] = sections.map(section => ({ ...section, links: [] }))
  const stream = new Stream(world.seed, page.id, 162)
  const draw = mix(world.seed, page.id, 163)
  const document: Document = {
    url,
    site,
    language: page.language,
    title: titleOn(world, page, day),
    description: draw % 12 === 0 ? null : page.description,
    robots: page.kind === 'thread' && draw % 19 === 0 ? 'noindex, follow' : draw % 41 === 0 ? 'max-snippet:120' : null,
    canonical: draw % 4 === 0 ? null : url,
    alternates: alternatesOf(world, page, url),
    modified: Math.min(day, page.updated <= day ? page.updated : page.born),
    heading,
    blocks,
    navigation: navigationOf(world, site, page.language, url),
    sidebar: [],
    footer: [],
    broken: brokenOf(world, page),
    template: mix(world.seed, site.id, 164) % 6,
  }
  const words = siteWords[page.language]
  for (const [path, text] of [
    [words.about, words.aboutText],
    [words.contact, words.contactText],
    [words.privacy, words.privacyText],
  ] as const)
    document.footer.push(inside(site, url, path, text, 'footer'))
  const contentBlock = (): Block => blocks[stream.int(blocks.length)]!
  const { offsets, order } = world.linksBySource
  for (let at = offsets[page.id]!; at < offsets[page.id + 1]!; at++) {
    const link = order[at]!
    const { born, died, rel, kind, region } = world.links
    if (born[link]! > day || (died[link] && died[link]! <= day)) continue
    const entry: DocumentLink = {
      href: linkedAddress(world, link),
      url: linkedAddress(world, link),
      anchor: anchorOf(world, link),
      rel: rels[rel[link]!]!,
      kind: kind[link] === linkKind.image ? 'image' : kind[link] === linkKind.frame ? 'frame' : 'text',
      region: regions[region[link]!]!,
    }
    if (region[link] === linkRegion.footer) document.footer.push(entry)
    else if (region[link] === linkRegion.sidebar) document.sidebar.push(entry)
    else if (region[link] === linkRegion.comment)
      (blocks.findLast(block => block.who) ?? blocks.at(-1)!).links.push(entry)
    else contentBlock().links.push(entry)
  }
  for (const other of neighbours(world, page, day, stream))
    contentBlock().links.push(insidePage(world, url, other, 'content', draw % 7 === 0 ? '?ref=text' : ''))
  if (page.kind === 'home')
    for (const other of world.pagesOfSite[page.site]!.slice(1, 25))
      if (standsOn(other, day)) blocks.at(-1)!.links.push(insidePage(world, url, other, 'content'))
  // A link that leads nowhere, a file that is no page, and a loop: crawlers meet all three.
  if (draw % 53 === 1) blocks.at(-1)!.links.push(inside(site, url, `/missing/${draw % 1000}`, words.old, 'content'))
  if (draw % 67 === 2) blocks.at(-1)!.links.push(inside(site, url, '/files/catalogue.pdf', words.catalogue, 'content'))
  if (draw % 97 === 3) blocks.at(-1)!.links.push(inside(site, url, '/loop/a', words.old, 'content'))
  return document
}

/** hreflang entries of a page that has a twin in the other language. */
function alternatesOf(world: World, page: Page, url: string): Document['alternates'] {
  if (page.twin === undefined) return []
  const twin = world.pages[page.twin]!
  const both = [
    { language: page.language, url },
    { language: twin.language, url: addressOf(world, twin) },
  ]
  const english = both.find(each => each.language === 'en')
  return english ? [...both, { language: 'x-default', url: english.url }] : both
}

const absolute = (site: Site, path: string): string => `${site.secure ? 'https' : 'http'}://${site.host}${path}`
/** A link within the site; pages of one host write it relative as often as not. */
export function inside(site: Site, from: string, path: string, anchor: string, region: Region): DocumentLink {
  const url = absolute(site, path)
  const sameHost = new URL(from).host === site.host
  return { href: sameHost && path.length % 3 ? path : url, url, anchor, rel: '', kind: 'text', region }
}

function insidePage(world: World, from: string, page: Page, region: Region, query = ''): DocumentLink {
  const site = world.sites[page.site]!
  if (!page.onSecondHost) return inside(site, from, `${page.path}${query}`, page.title, region)
  const url = `${addressOf(world, page)}${query}`
  return { href: url, url, anchor: page.title, rel: '', kind: 'text', region }
}

/** Up to four other pages of the site, of the same subject first. */
function neighbours(world: World, page: Page, day: number, stream: Stream): Page[] {
  const own = world.pagesOfSite[page.site]!
  const found = new Set<Page>()
  if (page.head >= 0)
    for (const other of world.pagesOfHead[page.head]!)
      if (other.site === page.site && other !== page && found.size < 3 && standsOn(other, day)) found.add(other)
  for (let tries = 0; found.size < 4 && tries < 8; tries++) {
    const other = stream.pick(own)
    if (other !== page && other.kind !== 'home' && standsOn(other, day)) found.add(other)
  }
  return [...found]
}

export function navigationOf(world: World, site: Site, language: Language, from: string): DocumentLink[] {
  const words = siteWords[language]
  const archives = Math.max(1, Math.ceil((world.pagesOfSite[site.id]!.length - 1) / pagesPerArchive))
  const links = [inside(site, from, '/', site.name, 'navigation')]
  for (let i = 1; i <= Math.min(5, archives); i++)
    links.push(inside(site, from, archivePath(language, i), `${words.all} ${i}`, 'navigation'))
  if (site.kind === 'shop' || site.kind === 'own' || site.kind === 'rival' || site.kind === 'marketplace')
    links.push({ ...inside(site, from, words.basket, words.basketText, 'navigation'), rel: 'nofollow' })
  return links
}

/** What the truth port says about a page, to compare a crawl with. */
export function recordOf(document: Document): object {
  const { url, language, title, description, robots, canonical, heading, blocks, broken } = document
  return {
    url,
    language,
    title,
    description,
    robots,
    canonical,
    alternates: document.alternates,
    modified: isoOf(document.modified),
    headings: [heading, ...blocks.flatMap(block => (block.heading ? [block.heading] : []))],
    paragraphs: blocks.flatMap(block => block.paragraphs),
    links: [
      ...document.navigation,
      ...blocks.flatMap(block => block.links),
      ...document.sidebar,
      ...document.footer,
    ].map(({ url: target, anchor, rel, kind, region }) => ({ url: target, anchor, rel, kind, region })),
    broken,
  }
}
