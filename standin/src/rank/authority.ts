import { isoOf } from '../calendar.ts'
import { linkKind } from '../world/links.ts'
import type { World } from '../world/world.ts'

export type Authority = { site: Float64Array; page: Float64Array; linkingSites: Int32Array }
const kept = new WeakMap<World, { edition: number; months: Map<number, Authority> }>()
/** What a link counts by its rel: followed, nofollow, sponsored, by users. */
const worthOfRel = [1, 0.12, 0.05, 0.15]

/**
 * The engines' hidden view of links at the start of a month: a site's weight is the sum over its linking sites of what
 * those are worth themselves, far less for the network, little for links that do not count; squeezed into 0–1.
 */
export function authorityAt(world: World, month: number): Authority {
  let known = kept.get(world)
  if (known?.edition !== world.edition) kept.set(world, (known = { edition: world.edition, months: new Map() }))
  const { months } = known
  const ready = months.get(month)
  if (ready) return ready
  const day = Math.floor(Date.UTC(Math.floor(month / 12), month % 12, 1) / 86_400_000)
  const { links, pages, sites } = world
  const pairs = new Map<number, number>()
  const perPage = new Map<number, number>()
  for (let i = 0; i < links.count; i++) {
    if (links.born[i]! > day || (links.died[i]! && links.died[i]! <= day)) continue
    const source = pages[links.source[i]!]!
    if (source.gone && source.gone <= day) continue
    const target = links.target[i]!
    const worth = worthOfRel[links.rel[i]!]! * (links.kind[i] === linkKind.frame ? 0.3 : 1)
    const pair = source.site * 65_536 + pages[target]!.site
    if ((pairs.get(pair) ?? 0) < worth) pairs.set(pair, worth)
    const pagePair = source.site * 4_194_304 + target
    if ((perPage.get(pagePair) ?? 0) < worth) perPage.set(pagePair, worth)
  }
  const linkingSites = new Int32Array(sites.length)
  const first = new Float64Array(sites.length)
  for (const [pair, worth] of pairs) {
    first[pair % 65_536]! += worth
    linkingSites[pair % 65_536]!++
  }
  const second = new Float64Array(sites.length)
  for (const [pair, worth] of pairs) {
    const source = sites[Math.floor(pair / 65_536)]!
    second[pair % 65_536]! +=
      worth *
      Math.log1p(first[source.id]!) *
      (source.kind === 'network'
        ? 0.08
        : source.kind === 'school' || source.kind === 'public' || source.kind === 'news'
          ? 1.6
          : 1) *
      (0.4 + source.quality)
  }
  const full = Math.log1p(sites.length * 3)
  const site = second.map(value => Math.min(1, (Math.log1p(value) / full) ** 3))
  const page = new Float64Array(pages.length)
  for (const [pair, worth] of perPage)
    page[pair % 4_194_304]! += worth * (0.3 + first[Math.floor(pair / 4_194_304)]! / sites.length)
  for (let i = 0; i < page.length; i++) page[i] = Math.min(1, Math.log1p(page[i]!) / 3)
  const made = { site, page, linkingSites }
  months.set(month, made)
  if (months.size > (pages.length > 50_000 ? 6 : 40)) months.delete(months.keys().next().value!)
  return made
}

/** Share of the month that has passed, for going smoothly from one month's view to the next. */
export const monthShare = (day: number): number => (Number(isoOf(day).slice(8)) - 1) / 31
