import type { PageKind } from '../world/pages.ts'
import type { World } from '../world/world.ts'
import type { Plan } from './candidates.ts'
import { rankOn, scoresOn } from './rank.ts'
import { engineSpec, fitOf, linkScore, serves, servesIntent, stillScore } from './rule.ts'

/**
 * The true hurdle of a query: the site weight (0–1) at which a new page that fits well and has two
 * links would draw level with the tenth result, noise left out; 0 where any site could, 1 where none can.
 */
export function trueHurdle(world: World, plan: Plan, day: number): number {
  const scores = scoresOn(world, plan, day, true)
  const tenth =
    rankOn(world, plan, day, 10, true)
      .map(page => scores[plan.pages.indexOf(page)]!)
      .at(-1) ?? 0
  const kind = (Object.keys(serves) as PageKind[])
    .filter(each => each !== 'home')
    .sort((a, b) => servesIntent(plan.query, b) - servesIntent(plan.query, a))[0]!
  const at = (site: number): number =>
    stillScore(plan.setting, 0.92, servesIntent(plan.query, kind), 0.6, 0, 0.65) +
    engineSpec[plan.setting.engine].title * 0.85 * fitOf(0.92, 1) +
    linkScore(plan.setting, 0.92, site, 0.1) +
    engineSpec[plan.setting.engine].fresh * (plan.query.intent[1]! + 0.3)
  let low = 0
  let high = 1
  for (let i = 0; i < 50; i++) {
    const mid = (low + high) / 2
    if (at(mid) < tenth) low = mid
    else high = mid
  }
  return (low + high) / 2
}
