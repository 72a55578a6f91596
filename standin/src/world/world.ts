import { type Aspect, type Head, type Keyword, makeAspects, makeHeads, makeKeywords } from './keywords.ts'
import { indexByTarget, type Links, makeLinks } from './links.ts'
import { makePages, type Page } from './pages.ts'
import { makeSites, type Site } from './sites.ts'

/** A whole small world, made from seed, size and today's day number alone. */
export type World = {
  seed: number
  size: number
  today: number
  heads: Head[]
  aspects: Aspect[]
  keywords: Keyword[]
  byPhrase: Map<string, Keyword>
  sites: Site[]
  byDomain: Map<string, Site>
  pages: Page[]
  pagesOfSite: Page[][]
  pagesOfHead: Page[][]
  pageByUrl: Map<string, Page>
  links: Links
  linksByTarget: { offsets: Int32Array; order: Int32Array }
}

export const urlOf = (world: World, page: Page): string => `https://${world.sites[page.site]!.domain}${page.path}`

/** The past must not change when a day passes, so the world is laid out up to one fixed day; what is born later than the day asked for is not there yet. */
const epoch = Math.floor(Date.UTC(2028, 0, 1) / 86_400_000)

export function makeWorld(seed: number, size: number, today: number): World {
  const heads = makeHeads()
  const aspects = makeAspects()
  const keywords = makeKeywords(seed, Math.round(9_000 * size), heads, aspects)
  const sites = makeSites(seed, size, epoch)
  const pages = makePages(seed, Math.round(6_000 * size), sites, heads, aspects, epoch)
  const links = makeLinks(seed, Math.round(60_000 * size), sites, pages, epoch)
  const world: World = {
    seed,
    size,
    today,
    heads,
    aspects,
    keywords,
    sites,
    pages,
    links,
    byPhrase: new Map(keywords.map(keyword => [keyword.phrase, keyword])),
    byDomain: new Map(sites.map(site => [site.domain, site])),
    pagesOfSite: sites.map(() => []),
    pagesOfHead: heads.map(() => []),
    pageByUrl: new Map(),
    linksByTarget: indexByTarget(links, pages.length),
  }
  for (const page of pages) {
    world.pagesOfSite[page.site]!.push(page)
    if (page.head >= 0) world.pagesOfHead[page.head]!.push(page)
    world.pageByUrl.set(urlOf(world, page), page)
  }
  return world
}
