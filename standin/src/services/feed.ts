import { isoOf } from '../calendar.ts'
import { unit } from '../random.ts'
import { urlOf, type World } from '../world/world.ts'

export type FeedName = 'north' | 'south'
const spec: Record<FeedName, { code: number; coverage: number; delayDays: number }> = {
  north: { code: 1, coverage: 0.78, delayDays: 6 },
  south: { code: 2, coverage: 0.6, delayDays: 16 },
}
const rels = ['', 'nofollow', 'sponsored', 'ugc']

/** Indexes of the links to a site or page that a feed knows on a day, gone ones too. */
function known(world: World, feed: FeedName, target: string, day: number): number[] | undefined {
  const { code, coverage, delayDays } = spec[feed]
  const site = world.byDomain.get(target)
  const pages = site ? world.pagesOfSite[site.id]! : [world.pageByUrl.get(target)].filter(page => page !== undefined)
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

export function linkTotals(world: World, feed: FeedName, target: string, day: number): object {
  const links = known(world, feed, target, day)
  if (!links) return { target, known: false, links: null, linking_pages: null, linking_sites: null }
  const there = links.filter(link => !world.links.died[link] || world.links.died[link]! > day)
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
      const page = world.pages[world.links.target[link]!]!
      const died = world.links.died[link]!
      const head = page.head >= 0 ? world.heads[page.head]!.name : ''
      const draw = unit(world.seed, link, 112)
      const site = world.sites[page.site]!
      return {
        source: urlOf(world, source),
        source_title: source.title,
        target: urlOf(world, page),
        rel: rels[world.links.rel[link]!],
        anchor:
          draw < 0.4
            ? site.name
            : draw < 0.6 && head
              ? head
              : draw < 0.75
                ? site.domain
                : draw < 0.85
                  ? 'here'
                  : page.title,
        first_seen: isoOf(world.links.born[link]! + spec[feed].delayDays),
        last_seen: isoOf(Math.min(day, died && died <= day ? died : day)),
        lost: Boolean(died && died <= day),
      }
    }),
    next: offset + size < links.length ? offset + size : null,
  }
}

/** RDAP (RFC 9083) answer for a domain, or undefined where nobody has registered it. */
export function rdapDomain(world: World, domain: string): object | undefined {
  const site = world.byDomain.get(domain)
  if (!site) return undefined
  return {
    objectClassName: 'domain',
    rdapConformance: ['rdap_level_0'],
    ldhName: domain,
    handle: `D${site.id}-TARROW`,
    status: ['active'],
    events: [
      { eventAction: 'registration', eventDate: `${isoOf(site.registered)}T08:00:00Z` },
      { eventAction: 'expiration', eventDate: `${isoOf(site.registered + 365 * 25)}T08:00:00Z` },
    ],
    entities: [
      {
        objectClassName: 'entity',
        roles: ['registrant'],
        vcardArray: [
          'vcard',
          [
            ['version', {}, 'text', '4.0'],
            ['fn', {}, 'text', site.kind === 'network' ? 'Offer Group 9' : site.name],
          ],
        ],
      },
    ],
    nameservers: [{ objectClassName: 'nameserver', ldhName: `ns1.${domain}` }],
  }
}
