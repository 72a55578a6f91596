import { chance3, mix, unit } from '../random.ts'
import type { Keyword } from './keywords.ts'
import type { Site } from './sites.ts'
import type { World } from './world.ts'

/** One who pays to be shown for a keyword in a month. `share`: of the searches in which the ad is shown. `bid` in crowns a click. */
export type Advertiser = { site: Site; share: number; bid: number; position: number }

const sellersKept = new WeakMap<World, Map<string, Site[]>>()
function sellersOf(world: World, language: string, group: string): Site[] {
  let known = sellersKept.get(world)
  if (!known) sellersKept.set(world, (known = new Map()))
  const key = `${language}:${group}`
  let list = known.get(key)
  if (!list)
    known.set(
      key,
      (list = world.sites
        .filter(
          site =>
            ['own', 'rival', 'shop', 'marketplace', 'studio'].includes(site.kind) &&
            (site.language === language || site.alsoLanguage === language) &&
            (group === 'brand' || site.groups.includes(group)),
        )
        .sort((a, b) => b.appeal - a.appeal || a.id - b.id)
        .slice(0, 40)),
    )
  return list
}

/** How much a site spends, by half-years: some advertise always, some stop and come back, a few never. */
const zeal = (world: World, site: Site, month: number): number => {
  const never = unit(world.seed, site.id, 191) < 0.2
  return never
    ? 0
    : (0.25 + 0.75 * unit(world.seed, site.id, 192)) * (0.5 + chance3(site.id, world.seed, Math.floor(month / 6)))
}

/** Who advertises on a keyword in a month (months counted from year 0), best place first. */
export function advertisersOf(world: World, keyword: Keyword, month: number): Advertiser[] {
  const head = world.heads[keyword.head]!
  const key = mix(world.seed, keyword.head, keyword.aspect)
  const rows: Array<Advertiser & { rank: number }> = []
  for (const site of sellersOf(world, keyword.language, head.group)) {
    const interest = 0.3 + chance3(key, site.id, 7) + (head.site === site.id ? 0.6 : 0)
    const will = zeal(world, site, month) * interest * keyword.competition
    if (chance3(key, site.id, Math.floor(month / 2)) * 0.6 > will) continue
    const bid = keyword.cpc * (0.55 + 0.9 * chance3(key, site.id, month))
    rows.push({ site, bid, share: Math.min(0.95, 0.15 + will), position: 0, rank: bid * (0.5 + site.quality) })
  }
  rows.sort((a, b) => b.rank - a.rank || a.site.id - b.site.id)
  return rows.slice(0, 8).map(({ rank: _, ...row }, i) => ({ ...row, position: i + 1 }))
}
