import { isoOf, monthOf } from '../calendar.ts'
import type { World } from '../world/world.ts'

export type Authority = { site: Float64Array; page: Float64Array; linkingSites: Int32Array }
const kept = new WeakMap<World, Map<number, Authority>>()

/**
 * The engines' hidden view of links at the start of a month: a site's weight is the sum over its linking sites of what
 * those are worth themselves, far less for the network, little for links that do not count; squeezed into 0–1.
 */
export function authorityAt(world: World, month: number): Authority {
  let months = kept.get(world)
  if (!months) kept.set(world, (months = new Map()))
  const known = months.get(month)
  if (known) return known
  const day = Math.floor(Date.UTC(Math.floor(month / 12), month % 12, 1) / 86_400_000)
  const { links, pages, sites } = world
  const pairs = new Map<number, number>()
  const perPage = new Map<number, number>()
  const weight = [1, 0.12, 0.05, 0.15]
  for (let i = 0; i < links.count; i++) {
    if (links.born[i]! > day || (links.died[i]! && links.died[i]! <= day)) continue
    const source = pages[links.source[i]!]!
    const target = links.target[i]!
    const pair = source.site * 65_536 + pages[target]!.site
    const worth = weight[links.rel[i]!]!
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
  const site = second.map(value => Math.min(1, (Math.log1p(value) / full) ** 1.6))
  const page = new Float64Array(pages.length)
  for (const [pair, worth] of perPage)
    page[pair % 4_194_304]! += worth * (0.3 + first[Math.floor(pair / 4_194_304)]! / sites.length)
  for (let i = 0; i < page.length; i++) page[i] = Math.min(1, Math.log1p(page[i]!) / 3)
  const made = { site, page, linkingSites }
  months.set(month, made)
  if (months.size > 40) months.delete(months.keys().next().value!)
  return made
}

/** Share of the month that has passed, for going smoothly from one month's view to the next. */
export function monthShare(day: number): number {
  return (Number(isoOf(day).slice(8)) - 1) / 31
}
export const authorityMonth = monthOf
