import { positionsDown } from './position-depth.ts'

/** Days on either side whose means are compared. */
const side = 4

/**
 * Places a keyword gained (above 0) or lost around a day: the mean position of the last four checked days before it, less that of the first
 * four from `comesIn` days after it on. `days`: day-vector values, oldest first; `at`: index of the day. Null where nothing is known on one
 * of the sides within a fortnight.
 */
export function gainedAround(days: ArrayLike<number>, at: number, comesIn = 0): number | null {
  const meanOf = (from: number, step: 1 | -1): number | null => {
    const found: number[] = []
    for (let i = from; i >= 0 && i < days.length && Math.abs(i - from) < 14 && found.length < side; i += step) {
      const down = positionsDown(days[i]!)
      if (down !== null) found.push(down)
    }
    return found.length ? found.reduce((sum, down) => sum + down, 0) / found.length : null
  }
  const before = meanOf(at - 1, -1)
  const after = meanOf(at + comesIn, 1)
  return before === null || after === null ? null : before - after
}
