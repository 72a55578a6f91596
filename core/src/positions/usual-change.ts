import { median } from '../demand/theil-sen.ts'
import { positionsDown } from './position-depth.ts'

/** Days that tell how much a keyword moves anyway. */
export const usualDays = 28
/** A change beyond so many robust deviations of the daily change is one beyond the usual. */
const beyondDeviations = 2.5
/** The normal law's standard deviation over its median absolute deviation. */
const madToDeviation = 1.4826

/**
 * How many places a keyword moves without anything having happened: 2.5 robust standard deviations (1.4826 × the median absolute
 * deviation) of its changes from one day to the next, at least one place. `days`: day-vector values, a value a day, oldest first; days
 * that were not checked are skipped. Null where fewer than seven changes are known.
 */
export function usualChange(days: ArrayLike<number>): number | null {
  const changes: number[] = []
  let before: number | null = null
  for (let i = 0; i < days.length; i++) {
    const now = positionsDown(days[i]!)
    if (now === null) continue
    if (before !== null) changes.push(now - before)
    before = now
  }
  if (changes.length < 7) return null
  const middle = median(changes)
  const deviation = madToDeviation * median(changes.map(change => Math.abs(change - middle)))
  return Math.max(1, beyondDeviations * deviation)
}
