import type { Page, PageKind } from '../world/pages.ts'
import type { Site } from '../world/sites.ts'
import { countryOf, type Device, type Engine } from '../world/vocabulary.ts'
import type { World } from '../world/world.ts'
import type { Query } from './understand.ts'

export type Setting = { engine: Engine; device: Device; place: string }
/** How well a kind of page serves learn, compare, buy, go to a site, find nearby. */
export const serves: Record<PageKind, number[]> = {
  home: [0.25, 0.3, 0.5, 1, 0.6],
  category: [0.15, 0.45, 1, 0.3, 0.5],
  product: [0.1, 0.3, 0.95, 0.2, 0.2],
  article: [1, 0.95, 0.2, 0.1, 0.25],
  thread: [0.8, 0.7, 0.05, 0, 0.1],
  listing: [0.05, 0.35, 0.3, 0.1, 1],
}
export const engineSpec = {
  lantern: { code: 1, relevance: 3.1, site: 3.6, page: 0.75, title: 0.3, fresh: 0.25 },
  plover: { code: 2, relevance: 3.3, site: 2.8, page: 0.5, title: 0.6, fresh: 0.55 },
}

export function relevanceOf(world: World, query: Query, page: Page): number {
  const brand = world.heads[query.head]!.site
  if (brand !== undefined) {
    if (page.site === brand) return page.head < 0 ? 1 : 0.5
    const kind = world.sites[page.site]!.kind
    return kind === 'directory' || kind === 'forum' ? 0.12 + 0.5 * query.intent[1]! : 0.07
  }
  if (page.head < 0) return world.sites[page.site]!.groups.includes(world.heads[query.head]!.group) ? 0.2 : 0.02
  if (page.head !== query.head) {
    // A page about a sister subject helps a little, more if it treats the same need.
    if (world.heads[page.head]!.parent === query.head || world.heads[query.head]!.parent === page.head)
      return page.aspect === query.aspect ? 0.6 : 0.25
    return page.aspect === query.aspect ? 0.42 : page.also.includes(query.aspect) ? 0.2 : 0.06
  }
  if (page.aspect === query.aspect) return 1
  if (page.also.includes(query.aspect)) return 0.84
  const plain = world.aspects[query.aspect]!.name === 'plain'
  const pagePlain = world.aspects[page.aspect]!.name === 'plain'
  if (plain || pagePlain) return 0.5
  const other = world.aspects[page.aspect]!.intent
  return 0.2 + 0.14 * query.intent.reduce((sum, share, i) => sum + share * other[i]!, 0)
}

export const servesIntent = (query: Query, kind: PageKind): number =>
  query.intent.reduce((sum, share, i) => sum + share * serves[kind][i]!, 0)

/** How relevance and intent come together: hardly anything below, saturating above. */
export const fitOf = (relevance: number, intentFit: number): number =>
  1 / (1 + Math.exp(-7 * (relevance * (0.55 + 0.45 * intentFit) - 0.42)))

/** The hidden rule's part that links and days do not touch. Interactions on purpose: fit multiplies, it does not add. */
export function stillScore(
  setting: Setting,
  relevance: number,
  intentFit: number,
  quality: number,
  local: number,
  mobile: number,
): number {
  return (
    engineSpec[setting.engine].relevance * fitOf(relevance, intentFit) * (0.6 + 0.4 * quality) +
    local +
    (setting.device === 'mobile' ? 0.35 * (mobile - 0.6) : 0)
  )
}

/** What links add: saturating, and worth more the better the page fits. */
export function linkScore(setting: Setting, relevance: number, site: number, page: number): number {
  const spec = engineSpec[setting.engine]
  return spec.site * Math.tanh(1.5 * site) * (0.45 + 0.55 * relevance) + spec.page * Math.sqrt(page)
}

/** What it is worth for a site to be in the searcher's own city, where the search is for something near; and what it costs to be a foreigner. */
export const localityOf = (query: Query, setting: Setting, site: Site): number => {
  if (site.language !== query.language) return -0.9
  if (!query.local) return 0
  return site.city === setting.place ? 0.8 : site.city && setting.place === countryOf(setting.place) ? 0.15 : 0
}
