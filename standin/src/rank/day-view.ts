import { monthOf } from '../calendar.ts'
import { unit } from '../random.ts'
import type { Engine } from '../world/vocabulary.ts'
import type { World } from '../world/world.ts'
import { authorityAt, monthShare } from './authority.ts'
import { engineSpec } from './rule.ts'

/** What is the same for all queries of an engine on a day. */
export type DayView = {
  day: number
  /** What a site's links add for a page that fits fully, by site. */
  sitePull: Float64Array
  /** What a page's own links add at the start of this month and the next, by page, and how far the month has gone. */
  pageNow: Float64Array
  pageNext: Float64Array
  share: number
  /** How much links count since the last shift. */
  linkWeight: number
  /** Where the last shift and the months put each site. */
  siteShift: Float64Array
  week: number
  /** How far the week has gone, 0–1. */
  within: number
}

/** Number of the last shift by a day. There are four in any 365 days: from its day on every site stands a little elsewhere, and links weigh differently. */
export function shiftOf(world: World, day: number, engineCode: number): number {
  const year = Math.floor(day / 365)
  const within = day - year * 365
  let passed = 0
  for (let quarter = 0; quarter < 4; quarter++)
    if (within >= quarter * 91 + 10 + Math.floor(unit(world.seed, quarter, engineCode, 41) * 70)) passed++
  return year * 4 + passed - 1
}

/** A site's slow ups and downs, from month to month. */
function momentum(world: World, site: number, month: number, share: number): number {
  const at = (when: number): number => unit(world.seed, site, when, 44) - 0.5
  return 0.3 * (at(month) * (1 - share) + at(month + 1) * share)
}

/** How much links count after a shift. */
export const linkWeightOf = (world: World, engineCode: number, shift: number): number =>
  1 + 0.12 * (unit(world.seed, shift, engineCode, 42) - 0.5)

/** Where a shift and the ups and downs of a moment put each site. */
export const siteShifts = (
  world: World,
  engineCode: number,
  shift: number,
  { month, share }: { month: number; share: number },
): Float64Array =>
  Float64Array.from(
    world.sites,
    site => 0.34 * (unit(world.seed, site.id, shift, engineCode, 43) - 0.5) + momentum(world, site.id, month, share),
  )

const mostKept = 900
const kept = new WeakMap<World, { edition: number; views: Map<number, DayView> }>()

export function dayView(world: World, engine: Engine, day: number): DayView {
  let known = kept.get(world)
  if (known?.edition !== world.edition) kept.set(world, (known = { edition: world.edition, views: new Map() }))
  const spec = engineSpec[engine]
  const key = day * 4 + spec.code
  const ready = known.views.get(key)
  if (ready) return ready
  const month = monthOf(day)
  const now = authorityAt(world, month)
  const next = authorityAt(world, month + 1)
  const share = monthShare(day)
  const shift = shiftOf(world, day, spec.code)
  const week = Math.floor(day / 7)
  const view: DayView = {
    day,
    sitePull: now.site.map((value, i) => spec.site * Math.tanh(1.5 * (value * (1 - share) + next.site[i]! * share))),
    pageNow: now.page,
    pageNext: next.page,
    share,
    linkWeight: linkWeightOf(world, spec.code, shift),
    siteShift: siteShifts(world, spec.code, shift, { month, share }),
    week,
    within: (day - week * 7) / 7,
  }
  known.views.set(key, view)
  if (known.views.size > (world.sites.length > 1_000 ? 60 : mostKept))
    known.views.delete(known.views.keys().next().value!)
  return view
}
