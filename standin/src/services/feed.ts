import { isoOf } from '../calendar.ts'
import { unit } from '../random.ts'
import { anchorOf, linkedAddress } from '../world/anchors.ts'
import type { Page } from '../world/pages.ts'
import { addressOf, type World } from '../world/world.ts'

export type FeedName = 'north' | 'south'
const spec: Record<FeedName, { code: number; coverage: number; delayDays: number }> = {
  north: { code: 1, coverage: 0.78, delayDays: 6 },
  south: { code: 2, coverage: 0.6, delayDays: 16 },
}
const rels = ['', 'nofollow', 'sponsored', 'ugc']
const kinds = ['text', 'image', 'redirect', 'frame']

/** Country of an address block, as registries give it; those that small hosts share say nothing. */
function countryOf(address: string): string | null {
  const block = Number(address.split('.')[2])
  return address.startsWith('198.18.25') ? null : block % 5 === 0 ? 'AT' : block % 3 === 0 ? 'DE' : 'GB'
}
/** How often a page was passed on: few pages often, most never. */
const sharesOf = (world: World, page: Page): number =>
  Math.floor(40 * world.sites[page.site]!.appeal * unit(world.seed, page.id, 117) ** 6 * 25)

/** Pages a target stands for: a domain with all its hosts, one host, a folder (address ending in *), or one page. */
export function pagesOfTarget(world: World, target: string): Page[] {
  const site = world.byDomain.get(target)
  if (site) return world.pagesOfSite[site.id]!
  const page = world.pageByAddress.get(target)
  if (page) return [page]
  const host = world.byHost.get(target)
  if (host)
    return world.pagesOfSite[host.id]!.filter(each => target === (each.onSecondHost ? host.secondHost : host.host))
  if (target.endsWith('*') && URL.canParse(target.slice(0, -1))) {
    const start = target.slice(0, -1)
    const owner = world.byHost.get(new URL(start).hostname)
    return owner ? world.pagesOfSite[owner.id]!.filter(each => addressOf(world, each).startsWith(start)) : []
  }
  return []
}

/** Indexes of the links to a target that a feed knows on a day, gone ones too. */
function known(world: World, feed: FeedName, target: string, day: number): number[] | undefined {
  const { code, coverage, delayDays } = spec[feed]
  const pages = pagesOfTarget(world, target)
  if (!pages.length) return undefined
  const { offsets, order } = world.linksByTarget
  const found: number[] = []
  for (const page of pages)
    for (let i = offsets[page.id]!; i < offsets[page.id + 1]!; i++) {
      const link = order[i]!
      if (world.links.born[link]! + delayDays <= day && unit(world.seed, link, code, 111) < coverage) found.push(link)
    }
  return found
}
const goneBy = (world: World, link: number, day: number): boolean =>
  Boolean(world.links.died[link] && world.links.died[link]! <= day)

export function linkTotals(world: World, feed: FeedName, target: string, day: number): object {
  const links = known(world, feed, target, day)
  if (!links) return { target, known: false, links: null, linking_pages: null, linking_sites: null }
  const there = links.filter(link => !goneBy(world, link, day))
  return {
    target,
    known: true,
    links: there.length,
    linking_pages: new Set(there.map(link => world.links.source[link])).size,
    linking_sites: new Set(there.map(link => world.pages[world.links.source[link]!]!.site)).size,
  }
}

export function linkRows(
  world: World,
  feed: FeedName,
  target: string,
  day: number,
  offset: number,
  size: number,
): { links: object[]; next: number | null } {
  const links = known(world, feed, target, day) ?? []
  return {
    links: links.slice(offset, offset + size).map(link => {
      const source = world.pages[world.links.source[link]!]!
      const gone = goneBy(world, link, day)
      return {
        source: addressOf(world, source),
        source_title: source.title,
        source_address: world.sites[source.site]!.address,
        source_country: countryOf(world.sites[source.site]!.address),
        // Only one of the feeds follows what is passed on in social networks.
        source_shares: feed === 'north' ? sharesOf(world, source) : null,
        target_shares: feed === 'north' ? sharesOf(world, world.pages[world.links.target[link]!]!) : null,
        source_language: source.language,
        target: linkedAddress(world, link),
        rel: rels[world.links.rel[link]!],
        kind: kinds[world.links.kind[link]!],
        anchor: anchorOf(world, link),
        first_seen: isoOf(world.links.born[link]! + spec[feed].delayDays),
        last_seen: isoOf(Math.min(day, gone ? world.links.died[link]! : day)),
        lost: gone,
      }
    }),
    next: offset + size < links.length ? offset + size : null,
  }
}
