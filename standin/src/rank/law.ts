import type { World } from '../world/world.ts'
import { monthOf } from '../calendar.ts'
import { standsOn } from '../world/world.ts'
import { changeEffect } from '../world/changes.ts'
import { authorityAt } from './authority.ts'
import { type Plan, titleShare } from './candidates.ts'
import { engineSpec, fitOf, linkScore, localityOf, servesIntent, stillScore } from './rule.ts'
import { trunk } from './understand.ts'

/**
 * Scores of a plan's candidates by the rule alone, without any of its random parts: what the best possible model of the
 * engine could know. −∞ for pages that do not stand on the day.
 */
export function lawfulScores(world: World, plan: Plan, day: number): Float64Array {
  const { query, setting } = plan
  const spec = engineSpec[setting.engine]
  const authority = authorityAt(world, monthOf(day))
  const stems = query.words.map(trunk)
  return Float64Array.from(plan.pages, (page, i) => {
    if (!standsOn(page, day)) return -Infinity
    const site = world.sites[page.site]!
    const relevance = plan.relevance[i]!
    const age = day - (page.updated <= day ? page.updated : page.born)
    return (
      stillScore(
        setting,
        relevance,
        servesIntent(query, page.kind),
        page.quality,
        localityOf(query, setting, site),
        site.mobile,
      ) +
      spec.title * titleShare(world, query, stems, page) * fitOf(relevance, 1) +
      linkScore(setting, relevance, authority.site[page.site]!, authority.page[page.id]!) +
      spec.fresh * (query.intent[1]! + 0.3) * Math.exp(-age / 300) +
      (day - page.born < 40 ? -0.5 * (1 - (day - page.born) / 40) : 0) +
      (page.site === world.own.id && page.head >= 0 ? changeEffect(world.changes, world.heads[page.head]!, day) : 0)
    )
  })
}
