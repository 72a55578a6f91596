import { chance3, mix } from '../random.ts'
import { type Change, changeEffect } from '../world/changes.ts'
import type { Page } from '../world/pages.ts'
import type { World } from '../world/world.ts'
import type { Plan } from './candidates.ts'
import { type DayView, dayView } from './day-view.ts'
import { engineSpec } from './rule.ts'

/** What is otherwise than it was in the world. */
export type WhatIf = { view?: DayView; changes?: Change[] }

/** e^(−age/300) by age in days: what is left of a page's freshness. */
const freshness = Float64Array.from({ length: 12_000 }, (_, age) => Math.exp(-age / 300))

/**
 * Score of every candidate on a day; −∞ for pages not yet born or gone. `still` leaves the noise of single days out; another view or other
 * changes of the own site tell what would have been.
 */
export function scoresOn(
  world: World,
  plan: Plan,
  day: number,
  still = false,
  { view = dayView(world, plan.setting.engine, day), changes = world.changes }: WhatIf = {},
): Float64Array {
  const { sitePull, pageNow, pageNext, share, linkWeight, siteShift, week, within } = view
  const { pages, relevance, base, engineCode, ids, sites, born, gone, updated } = plan
  const spec = engineSpec[plan.setting.engine]
  const fresh = spec.fresh * (plan.query.intent[1]! + 0.3)
  const key = mix(world.seed, plan.query.id, engineCode, plan.setting.device === 'mobile' ? 1 : 0)
  const scores = new Float64Array(pages.length)
  const ownId = world.own.id
  for (let i = 0; i < scores.length; i++) {
    const from = born[i]!
    if (from > day || (gone[i]! && gone[i]! <= day)) {
      scores[i] = -Infinity
      continue
    }
    const id = ids[i]!
    const site = sites[i]!
    const links =
      sitePull[site]! * (0.45 + 0.55 * relevance[i]!) +
      spec.page * Math.sqrt(pageNow[id]! * (1 - share) + pageNext[id]! * share)
    let score =
      base[i]! +
      linkWeight * links +
      fresh * freshness[day - (updated[i]! <= day ? updated[i]! : from)]! +
      siteShift[site]!
    if (day - from < 40) score -= 0.5 * (1 - (day - from) / 40)
    if (site === ownId && pages[i]!.head >= 0) score += changeEffect(changes, world.heads[pages[i]!.head]!, day)
    if (!still)
      score +=
        (chance3(key, id, week) * (1 - within) + chance3(key, id, week + 1) * within - 0.5) * 0.18 +
        (chance3(key, id, day) - 0.5) * 0.11
    scores[i] = score
  }
  return scores
}

/** The ranking of a day, best first, at most two pages of a site in a row of ten and `depth` results. */
export function rankOn(world: World, plan: Plan, day: number, depth: number, still = false): Page[] {
  const scores = scoresOn(world, plan, day, still)
  const order = Array.from(scores.keys())
    .filter(i => scores[i]! > -Infinity && plan.relevance[i]! > 0.03)
    .sort((a, b) => scores[b]! - scores[a]! || a - b)
  const perSite = new Map<number, number>()
  const ranked: Page[] = []
  for (const i of order) {
    const page = plan.pages[i]!
    const had = perSite.get(page.site) ?? 0
    if (had >= 2) continue
    perSite.set(page.site, had + 1)
    ranked.push(page)
    if (ranked.length === depth) break
  }
  return ranked
}

/** Pages above by site, written anew by each count. */
let counts = new Uint16Array(0)

/** Where a site's pages stand on a day, its best two at most: the places `rankOn` gives them, without sorting. */
export function positionsOfSite(
  world: World,
  plan: Plan,
  day: number,
  site: number,
  still = false,
  whatIf: WhatIf = {},
): Array<{ position: number; page: Page }> {
  const scores = scoresOn(world, plan, day, still, whatIf)
  if (counts.length < world.sites.length) counts = new Uint16Array(world.sites.length)
  let first = -1
  let second = -1
  for (let i = 0; i < scores.length; i++) {
    if (plan.sites[i] !== site || plan.relevance[i]! <= 0.03 || scores[i] === -Infinity) continue
    if (first < 0 || scores[i]! > scores[first]!) [first, second] = [i, first]
    else if (second < 0 || scores[i]! > scores[second]!) second = i
  }
  return [first, second]
    .filter(own => own >= 0)
    .map(own => {
      const least = scores[own]!
      const { sites, relevance } = plan
      counts.fill(0)
      let position = 1
      for (let i = 0; i < scores.length; i++)
        if ((scores[i]! > least || (scores[i] === least && i < own)) && relevance[i]! > 0.03)
          if (++counts[sites[i]!]! <= 2)
            // No site counts more than twice.
            position++
      return { position, page: plan.pages[own]! }
    })
}
