import { seededDraw } from '../links/seeded-draw.ts'
import { positionsDownTo } from './position-depth.ts'

/** Days before a change that keywords are compared by, and days after it that count at most. */
export const daysBefore = 28
const daysAfter = 28
/** A change comes in over some days: what is seen before is left out. */
const comesIn = 7
/** With fewer days after it nothing is said. */
export const tooEarlyBefore = 14
const leastDays = 5
const deepest = 50
const controlsEach = 8
const draws = 2_000
/** The 0.975 quantile of the normal law. */
const spread95 = 1.96
/** Below it an effect is said to be one; 0.05 called 7 % of changes without effect clear, since several keywords share what they are compared with. */
export const clearBelow = 0.03

/** One keyword's day-vector values, a value a day, the change at index `at`. */
export type KeywordDays = { id: number; days: ArrayLike<number> }
export type Effect =
  | { kind: 'tooEarly'; daysLeft: number }
  | { kind: 'tooFew'; touched: number; controls: number }
  | {
      kind: 'known'
      /** Mean places gained (above 0) or lost by the touched keywords, beyond what comparable ones did. */
      positions: number
      /** 95 % interval. */
      low: number
      high: number
      /** How often as much is seen where nothing was done, 0–1. */
      chance: number
      clear: boolean
      /** Keywords compared, and those they were compared with. */
      touched: number
      controls: number
      /** Mean position of the touched ones before and after, and what it would have been without the change. */
      before: number
      after: number
      without: number
    }

type Measured = { id: number; before: number; after: number; days: Array<number | null>; noise: number }

/**
 * Whether a change moved the keywords it touched: the difference between their movement and that of comparable keywords (difference in
 * differences). Movement: mean position of the 7th to 34th day after, less that of the 28 days before, none deeper than 51. Comparable: the
 * eight untouched keywords whose daily positions of the 28 days before were nearest. Keywords that move much anyway count less (by the
 * inverse of their variance). `chance`: two-sided, by drawing which of each keyword and those compared with it was the touched one
 * (2,000 draws, the same for the same `seed`). `at`: index of the day of the change.
 */
export function effectOfChange(
  touched: readonly KeywordDays[],
  others: readonly KeywordDays[],
  at: number,
  seed = 1,
): Effect {
  const length = Math.max(0, ...[...touched, ...others].map(each => each.days.length))
  if (length - at < tooEarlyBefore) return { kind: 'tooEarly', daysLeft: tooEarlyBefore - (length - at) }
  const measured = touched.flatMap(each => measure(each, at) ?? [])
  const pool = others.flatMap(each => measure(each, at) ?? [])
  if (measured.length < 2 || pool.length < controlsEach)
    return { kind: 'tooFew', touched: measured.length, controls: pool.length }

  const groups = measured.map(one => {
    const near = pool
      .map(other => ({ other, distance: distance(one, other) }))
      .sort((a, b) => a.distance - b.distance || a.other.id - b.other.id)
      .slice(0, controlsEach)
      .map(({ other }) => other)
    const members = [one, ...near]
    const gains = members.map(each => each.before - each.after)
    const sum = gains.reduce((all, gain) => all + gain, 0)
    // What each member would be said to have gained beyond the others, were it the touched one.
    const beyond = gains.map(gain => gain - (sum - gain) / (gains.length - 1))
    const noise = members.reduce((all, each) => all + each.noise, 0) / members.length
    return { one, near, beyond, weight: 1 / (noise + 0.5) }
  })
  const weights = groups.reduce((sum, group) => sum + group.weight, 0)
  const meanOf = (pick: (group: (typeof groups)[number]) => number): number =>
    groups.reduce((sum, group) => sum + group.weight * pick(group), 0) / weights
  const positions = meanOf(group => group.beyond[0]!)

  const draw = seededDraw(seed)
  let asMuch = 0
  let squares = 0
  for (let i = 0; i < draws; i++) {
    const value = meanOf(({ beyond }) => beyond[Math.floor(draw() * beyond.length)]!)
    squares += value ** 2
    if (Math.abs(value) >= Math.abs(positions) - 1e-12) asMuch++
  }
  const half = spread95 * Math.sqrt(squares / draws)
  const chance = (asMuch + 1) / (draws + 1)
  const after = meanOf(({ one }) => one.after)
  return {
    kind: 'known',
    positions,
    low: positions - half,
    high: positions + half,
    chance,
    clear: chance < clearBelow,
    touched: measured.length,
    controls: new Set(groups.flatMap(({ near }) => near.map(({ id }) => id))).size,
    before: meanOf(({ one }) => one.before),
    after,
    without: after + positions,
  }
}

/** Means before and after, and the variance of a mean of so many days; null where too few days are known. */
function measure({ id, days }: KeywordDays, at: number): Measured | null {
  const part = (from: number, to: number): Array<number | null> =>
    Array.from({ length: Math.max(0, to - from) }, (_, i) =>
      from + i < 0 || from + i >= days.length ? null : positionsDownTo(days[from + i]!, deepest + 1),
    )
  const before = part(at - daysBefore, at)
  const after = part(at + comesIn, Math.min(days.length, at + comesIn + daysAfter))
  const [then, since] = [before, after].map(list => list.filter(each => each !== null))
  if (then!.length < leastDays || since!.length < leastDays) return null
  const [meanThen, meanSince] = [mean(then!), mean(since!)]
  // Far down for good says nothing of an effect.
  if (meanThen > deepest && meanSince > deepest) return null
  return { id, before: meanThen, after: meanSince, days: before, noise: slowNoise(before, meanThen) }
}

/** Variance of weekly means around their mean: what keeps from day to day is not averaged away. */
function slowNoise(days: ReadonlyArray<number | null>, around: number): number {
  const weeks = Array.from({ length: Math.floor(days.length / 7) }, (_, week) =>
    days.slice(week * 7, week * 7 + 7).filter(each => each !== null),
  )
    .filter(week => week.length)
    .map(mean)
  return weeks.length < 2 ? 4 : weeks.reduce((sum, week) => sum + (week - around) ** 2, 0) / (weeks.length - 1)
}

/** Mean distance of two keywords' positions over the days on which both are known; far apart where there are none. */
function distance(a: Measured, b: Measured): number {
  let sum = 0
  let days = 0
  for (let i = 0; i < a.days.length; i++) {
    const [one, other] = [a.days[i], b.days[i]]
    if (one == null || other == null) continue
    sum += Math.abs(one - other)
    days++
  }
  return days ? sum / days : Number.POSITIVE_INFINITY
}

const mean = (values: readonly number[]): number => values.reduce((sum, value) => sum + value, 0) / values.length
