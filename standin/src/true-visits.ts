import { setImmediate as breathe } from 'node:timers/promises'
import { monthOf } from './calendar.ts'
import { planRanking } from './rank/candidates.ts'
import { clickShare } from './rank/clicks.ts'
import { rankOn } from './rank/rank.ts'
import type { Setting } from './rank/rule.ts'
import { understand } from './rank/understand.ts'
import { featuresOf } from './services/features.ts'
import { trueSearches } from './world/demand.ts'
import type { Language } from './world/vocabulary.ts'
import { addressOf, type World } from './world/world.ts'

const [depth, atOnce] = [100, 25]

/** `sites`: visits a month by site number; `pages`: by address; `shared`: what a site and another both get from the same keywords, summed. */
export type TrueVisits = {
  sites: Map<number, number>
  pages: Map<string, number>
  shared: Map<number, Map<number, number>>
}

/**
 * True visits a month of all sites and pages from all keywords of a language on a day: true mean searches of the last 12 full months × the
 * true share that clicks the result where it stands, as if all searches were made on the setting's device. `viewpoints`: sites (by number) of
 * which it is also told what they share with each other site: of each keyword the smaller of both visits.
 */
export async function trueVisits(
  world: World,
  setting: Setting,
  language: Language,
  day: number,
  viewpoints: ReadonlySet<number>,
): Promise<TrueVisits> {
  const sites = new Map<number, number>()
  const pages = new Map<string, number>()
  const shared = new Map([...viewpoints].map(site => [site, new Map<number, number>()]))
  const last = monthOf(day) - 1
  const keywords = world.keywords.filter(keyword => keyword.language === language)
  for (const [i, keyword] of keywords.entries()) {
    if (i % atOnce === 0) await breathe()
    const query = understand(world, keyword.phrase, language)
    if (!query) continue
    const year = Array.from({ length: 12 }, (_, month) => trueSearches(world, keyword, last - 11 + month))
    const searches = year.reduce((sum, each) => sum + each, 0) / 12
    const features = featuresOf(world, query, setting.engine, day)
    const here = new Map<number, number>()
    for (const [at, page] of rankOn(world, planRanking(world, query, setting), day, depth).entries()) {
      const visits = searches * clickShare(at + 1, setting.device, query, features)
      const address = addressOf(world, page)
      pages.set(address, (pages.get(address) ?? 0) + visits)
      sites.set(page.site, (sites.get(page.site) ?? 0) + visits)
      here.set(page.site, (here.get(page.site) ?? 0) + visits)
    }
    for (const [site, others] of shared) {
      const own = here.get(site)
      if (own === undefined) continue
      for (const [other, visits] of here)
        if (other !== site) others.set(other, (others.get(other) ?? 0) + Math.min(own, visits))
    }
  }
  return { sites, pages, shared }
}
