import { monthOf } from './calendar.ts'
import { authorityAt, monthShare } from './rank/authority.ts'
import type { Plan } from './rank/candidates.ts'
import { type DayView, dayView, linkWeightOf, shiftOf, siteShifts } from './rank/day-view.ts'
import { positionsOfSite, type WhatIf } from './rank/rank.ts'
import { engineSpec } from './rank/rule.ts'
import type { World } from './world/world.ts'

/** Beyond the last place that anybody looks at. */
const notFound = 101
const causes = ['shift', 'ownChange', 'rivalPage', 'swap', 'links', 'unknown'] as const
type Cause = (typeof causes)[number]

/**
 * Places that the own site's best page truly gained (above 0) or lost for a query between two days, the noise of single days left out, and
 * the cause without which it would have moved least that way. "swap": own pages made or taken away; "unknown": a site's slow ups and
 * downs, ageing, and what no single cause explains. Null where it was found on neither day.
 */
export function whatMoved(
  world: World,
  plan: Plan,
  from: number,
  to: number,
): { gained: number; cause: Cause; without: Record<Cause, number> } | null {
  const before = positionOn(world, plan, from)
  const after = positionOn(world, plan, to)
  if (before === notFound && after === notFound) return null
  const gained = before - after
  const without = Object.fromEntries(
    causes.map(cause => [cause, before - positionWithout(world, plan, cause, from, to)]),
  ) as Record<Cause, number>
  const shares = causes.map(cause => ({ cause, share: (gained - without[cause]) * Math.sign(gained) }))
  const most = shares.reduce((best, each) => (each.share > best.share ? each : best))
  return { gained, cause: most.share >= Math.max(1, Math.abs(gained) / 2) ? most.cause : 'unknown', without }
}

const positionOn = (world: World, plan: Plan, day: number, whatIf?: WhatIf): number =>
  Math.min(notFound, positionsOfSite(world, plan, day, world.own.id, true, whatIf)[0]?.position ?? notFound)

function positionWithout(world: World, plan: Plan, cause: Cause, from: number, to: number): number {
  const [then, now] = [dayView(world, plan.setting.engine, from), dayView(world, plan.setting.engine, to)]
  const with_ = (view: Partial<DayView>): number => positionOn(world, plan, to, { view: { ...now, ...view } })
  const { code, site } = engineSpec[plan.setting.engine]
  const momentOf = (day: number) => ({ month: monthOf(day), share: monthShare(day) })
  switch (cause) {
    case 'shift': {
      const shift = shiftOf(world, from, code)
      return with_({
        linkWeight: linkWeightOf(world, code, shift),
        siteShift: siteShifts(world, code, shift, momentOf(to)),
      })
    }
    case 'unknown':
      return with_({ siteShift: siteShifts(world, code, shiftOf(world, to, code), momentOf(from)) })
    case 'links': {
      const month = monthOf(from)
      const [start, end, share] = [authorityAt(world, month), authorityAt(world, month + 1), monthShare(from)]
      return with_({
        sitePull: start.site.map((value, i) => site * Math.tanh(1.5 * (value * (1 - share) + end.site[i]! * share))),
        pageNow: then.pageNow,
        pageNext: then.pageNext,
        share,
      })
    }
    case 'ownChange':
      // A change of just before comes in over a week, so it counts as made since then too.
      return positionOn(world, plan, to, { changes: world.changes.filter(change => change.day < from - 7) })
    case 'rivalPage':
    case 'swap': {
      const ofOwn = cause === 'swap'
      const isMeant = (i: number): boolean => (plan.sites[i] === world.own.id) === ofOwn
      const born = plan.born.map((day, i) => (isMeant(i) && day > from && day <= to ? to + 1 : day))
      const gone = plan.gone.map((day, i) => (isMeant(i) && day > from && day <= to ? 0 : day))
      return positionOn(world, { ...plan, born, gone }, to)
    }
  }
}
