import { bell3, mix, unit } from '../random.ts'
import { authorityAt } from '../rank/authority.ts'
import type { Query } from '../rank/understand.ts'
import { type Business, businessesOf } from '../world/towns.ts'
import { cityNear, type Engine, metresBetween } from '../world/vocabulary.ts'
import { isoOf, monthOf } from '../calendar.ts'
import type { World } from '../world/world.ts'

/** How well a category answers a group of subjects: 0 not at all, 1 just that. */
const serves: Record<Business['category'], Record<string, number>> = {
  'pottery studio': { studio: 1, technique: 0.8, kits: 0.3, wares: 0.4, brand: 0.5 },
  'craft school': { studio: 0.85, technique: 0.8, brand: 0.4 },
  'paint café': { studio: 0.6, kits: 0.4, wares: 0.3, brand: 0.3 },
  'ceramics shop': { wares: 1, kits: 0.6, clay: 0.5, glaze: 0.4, brand: 0.5 },
  'art supplies': { clay: 1, glaze: 1, tools: 1, kits: 0.9, wheels: 0.6, kilns: 0.4, brand: 0.4 },
  'kiln service': { kilns: 1, studio: 0.35, wheels: 0.7, brand: 0.4 },
  gallery: { wares: 0.7, brand: 0.3 },
}

/** How a business fares over the months beside what is told of it, −1 to 1: a slow wave of its own. */
function tide(seed: number, id: number, day: number): number {
  const period = 90 + 120 * unit(seed, id, 221)
  return Math.sin(2 * Math.PI * (day / period + unit(seed, id, 222)))
}

/**
 * The local results of a query at a point: relevance by category and name, prominence by reviews and links, and distance
 * from the searcher, which counts for more than all else beyond two kilometres. Listings whose names are stuffed gain a little.
 */
export function localResults(
  world: World,
  query: Query,
  engine: Engine,
  point: readonly [number, number],
  day: number,
  count: number,
  vague = false,
): object[] {
  const city = cityNear(...point)
  const head = world.heads[query.head]!
  const authority = authorityAt(world, monthOf(day)).site
  const engineCode = engine === 'lantern' ? 1 : 2
  const key = mix(world.seed, query.need, engineCode)
  const scored = (city ? businessesOf(world, city.code) : []).flatMap(business => {
    if (business.opened > day) return []
    const match = serves[business.category][head.group] ?? 0
    const named = query.words.filter(word => word.length > 3 && business.name.toLowerCase().includes(word)).length
    const relevance = match + 0.18 * named * (engine === 'plover' ? 1.6 : 1)
    if (relevance < 0.25) return []
    const metres = metresBetween(point, business.position)
    const near = vague ? 0 : 1.5 * Math.log1p(metres / 600) + (metres > 2_000 ? (metres - 2_000) / 2_500 : 0)
    const score =
      2.2 * relevance +
      0.22 * Math.log1p(business.reviews) +
      0.35 * (business.rating - 4) +
      (business.site === undefined ? 0 : 0.9 * authority[business.site]!) -
      near +
      0.12 * bell3(key, business.id, 3) +
      0.3 * tide(world.seed, business.id, day) +
      0.05 * (unit(business.id, day, query.need) - 0.5)
    return [{ business, score, metres }]
  })
  scored.sort((a, b) => b.score - a.score || a.business.id - b.business.id)
  return scored.slice(0, count).map(({ business, metres }, i) => ({
    position: i + 1,
    ...businessRecord(world, business),
    distance_metres: vague ? null : Math.round(metres),
  }))
}

export function businessRecord(world: World, business: Business): object {
  const site = business.site === undefined ? undefined : world.sites[business.site]!
  return {
    id: `b${business.id}`,
    name: business.name,
    category: business.category,
    street: business.street,
    phone: business.phone,
    url: site ? `${site.secure ? 'https' : 'http'}://${site.host}/` : null,
    rating: business.rating,
    reviews: business.reviews,
    photos: business.photos,
    hours: business.hours,
    opened_on: isoOf(business.opened),
    latitude: business.position[0],
    longitude: business.position[1],
  }
}
