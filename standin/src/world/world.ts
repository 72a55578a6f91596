import { type Change, makeChanges } from './changes.ts'
import { type Aspect, type Head, type Keyword, makeAspects, makeHeads, makeKeywords } from './keywords.ts'
import { indexLinks, type Links, makeLinks } from './links.ts'
import { makePages, type Page } from './pages.ts'
import { makeSites, type Site } from './sites.ts'

type Index = { offsets: Int32Array; order: Int32Array }
/** A whole small world, made from seed, size and today's day number alone. */
export type World = {
  seed: number
  size: number
  today: number
  heads: Head[]
  aspects: Aspect[]
  keywords: Keyword[]
  byPhrase: Map<string, Keyword>
  keywordsOfHead: Keyword[][]
  sites: Site[]
  own: Site
  byDomain: Map<string, Site>
  byHost: Map<string, Site>
  pages: Page[]
  pagesOfSite: Page[][]
  pagesOfHead: Page[][]
  pageByAddress: Map<string, Page>
  links: Links
  linksByTarget: Index
  linksBySource: Index
  changes: Change[]
  /** Counts up when a page is published; what is derived from pages and links is made anew then. */
  edition: number
}

/** A page's address, or the older one that leads to it. */
export function addressOf(world: World, page: Page, old = false): string {
  const site = world.sites[page.site]!
  const host = page.onSecondHost ? site.secondHost! : site.host
  return `${site.secure ? 'https' : 'http'}://${host}${old && page.oldPath ? page.oldPath : page.path}`
}

/** The past must not change when a day passes, so the world is laid out up to one fixed day; what is born later than the day asked for is not there yet. */
const epoch = Math.floor(Date.UTC(2028, 0, 1) / 86_400_000)

export function makeWorld(seed: number, size: number, today: number): World {
  const sites = makeSites(seed, size, epoch)
  const heads = makeHeads(size, sites)
  const aspects = makeAspects()
  const keywords = makeKeywords(seed, Math.round(9_000 * size), heads, aspects)
  const pages = makePages(seed, Math.round(6_000 * size), sites, heads, aspects, epoch)
  const own = sites.find(site => site.kind === 'own')!
  const links = makeLinks(seed, Math.round(60_000 * size), sites, pages, heads, epoch)
  const world: World = {
    seed,
    size,
    today,
    heads,
    aspects,
    keywords,
    sites,
    own,
    pages,
    links,
    byPhrase: new Map(keywords.map(keyword => [keyword.phrase, keyword])),
    keywordsOfHead: heads.map(() => []),
    byDomain: new Map(sites.map(site => [site.domain, site])),
    byHost: new Map(),
    pagesOfSite: sites.map(() => []),
    pagesOfHead: heads.map(() => []),
    pageByAddress: new Map(),
    linksByTarget: indexLinks(links.target, links.count, pages.length),
    linksBySource: indexLinks(links.source, links.count, pages.length),
    changes: makeChanges(seed, own.groups, epoch),
    edition: 0,
  }
  for (const keyword of keywords) world.keywordsOfHead[keyword.head]!.push(keyword)
  for (const site of sites)
    for (const host of [site.domain, `www.${site.domain}`, site.secondHost]) if (host) world.byHost.set(host, site)
  for (const page of pages) placePage(world, page)
  return world
}

/** Enters a page in the world's lists. */
export function placePage(world: World, page: Page): void {
  world.pagesOfSite[page.site]!.push(page)
  if (page.head >= 0) world.pagesOfHead[page.head]!.push(page)
  world.pageByAddress.set(addressOf(world, page), page)
}

/** Whether a page stands on a day. */
export const standsOn = (page: Page, day: number): boolean => page.born <= day && (!page.gone || page.gone > day)
