import { median } from '../demand/theil-sen.ts'
import { positionsDownTo } from './position-depth.ts'

/**
 * A change counts no more than so many places: a shift moves many keywords a little. With 20 a page that was taken away, which throws five
 * keywords far down, was taken for one (1.9 false shifts a year in place of the one allowed).
 */
const mostPositions = 4
/** Where a position lies deeper it is not looked at: far down everything moves. */
const deepest = 50
const daysBefore = 28
const leastDaysBefore = 10
const leastKeywords = 20
/** So many robust deviations above the usual day make a shift. */
const leastSize = 5
/** …and so much more movement than on a usual day. */
const leastRatio = 1.3
/** The movement of a shift may take some days to come in: days so near each other are one. */
const oneShift = 5
/** The deviation of usual days is at least this part of their movement. */
const leastDeviation = 0.05
const madToDeviation = 1.4826

/** A day's positions of one market, as a day vector. */
export type CheckedDay = { day: string; vector: ArrayLike<number> }
export type DayMovement = {
  day: string
  /** Mean number of places by which keywords stand elsewhere than on their last checked day. */
  moved: number
  keywords: number
}
export type EngineShift = {
  day: string
  moved: number
  /** Of a usual day of the 28 before. */
  usual: number
  /** Robust standard deviations above the usual day. */
  size: number
  keywords: number
}

/**
 * How much an engine's results moved from day to day, over all its markets: the mean |change| of keywords found within the
 * first fifty on either day, each no more than four places. `markets`: a market's days each, oldest first; days that do not follow each
 * other are not compared. O(days × keywords).
 */
export function movementByDay(markets: ReadonlyArray<readonly CheckedDay[]>): DayMovement[] {
  const sums = new Map<string, { sum: number; keywords: number }>()
  for (const days of markets)
    for (let i = 1; i < days.length; i++) {
      const [before, now] = [days[i - 1]!, days[i]!]
      if (Date.parse(now.day) - Date.parse(before.day) > 86_400_000) continue
      const ofDay = sums.get(now.day) ?? { sum: 0, keywords: 0 }
      const slots = Math.min(before.vector.length, now.vector.length)
      for (let slot = 0; slot < slots; slot++) {
        const then = positionsDownTo(before.vector[slot]!, deepest + 1)
        const since = positionsDownTo(now.vector[slot]!, deepest + 1)
        if (then === null || since === null || (then > deepest && since > deepest)) continue
        ofDay.sum += Math.min(mostPositions, Math.abs(since - then))
        ofDay.keywords++
      }
      sums.set(now.day, ofDay)
    }
  return [...sums]
    .filter(([, { keywords }]) => keywords >= leastKeywords)
    .map(([day, { sum, keywords }]) => ({ day, moved: sum / keywords, keywords }))
    .sort((a, b) => (a.day < b.day ? -1 : 1))
}

/**
 * Days on which an engine changed how it ranks, oldest first: those that moved far more than the 28 days before (robust z-score of 5, and
 * more than a third above the usual day). Days of shifts found before are left out of what is usual. Of days within five of each other the
 * one with the largest movement stands for all.
 */
export function engineShifts(days: readonly DayMovement[]): EngineShift[] {
  const found: EngineShift[] = []
  const isShift = new Set<number>()
  days.forEach(({ day, moved, keywords }, i) => {
    const from = Date.parse(day) - daysBefore * 86_400_000
    const before = days.filter((each, j) => j < i && !isShift.has(j) && Date.parse(each.day) >= from)
    if (before.length < leastDaysBefore) return
    const usual = median(before.map(each => each.moved))
    const deviation = madToDeviation * median(before.map(each => Math.abs(each.moved - usual)))
    // Days that are nearly alike would make a shift of any other.
    const size = (moved - usual) / Math.max(deviation, leastDeviation * usual, 0.01)
    if (size < leastSize || moved < leastRatio * usual) return
    isShift.add(i)
    const last = found.at(-1)
    const shift = { day, moved, usual, size, keywords }
    if (last && Date.parse(day) - Date.parse(last.day) <= oneShift * 86_400_000) {
      if (last.size < shift.size) found[found.length - 1] = shift
    } else found.push(shift)
  })
  return found
}
