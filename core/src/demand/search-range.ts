/**
 * The steps a source rounds its monthly figures to, found from the figures themselves: all different values above 0, rising.
 * With fewer than `fewestValues` figures or hardly any repeats the source does not round, and the ladder is empty.
 */
export function findLadder(values: readonly number[]): number[] {
  const positive = values.filter(value => value > 0)
  const steps = [...new Set(positive)].sort((a, b) => a - b)
  return positive.length >= fewestValues && steps.length < positive.length / 8 ? steps : []
}
const fewestValues = 240

/**
 * Range of the mean monthly searches behind the last 12 known months. With a ladder each month lies between the middles
 * (geometric) to the neighbouring steps, and the months' ends are averaged; 0 means below half the lowest step. Without, the
 * 10th and 90th percentile of the months. `null` where no month is known. Searches a month.
 */
export function searchRange(
  months: ReadonlyArray<number | null>,
  ladder: readonly number[],
): { low: number; high: number } | null {
  const known = months.filter((month): month is number => month !== null).slice(-12)
  if (!known.length) return null
  if (!ladder.length) {
    const sorted = [...known].sort((a, b) => a - b)
    const at = (share: number): number => sorted[Math.round(share * (sorted.length - 1))]!
    return { low: at(0.1), high: at(0.9) }
  }
  let low = 0
  let high = 0
  for (const value of known) {
    const step = stepAt(ladder, value)
    const below = ladder[step - 1] ?? value / ratio(ladder, step)
    const above = ladder[step + 1] ?? value * ratio(ladder, step)
    low += value <= 0 ? 0 : Math.sqrt(below * value)
    high += value <= 0 ? ladder[0]! * 0.75 : Math.sqrt(value * above)
  }
  return { low: low / known.length, high: high / known.length }
}

/** Index of a value in the ladder, or of the nearest step below. */
function stepAt(ladder: readonly number[], value: number): number {
  let low = 0
  let high = ladder.length - 1
  while (low < high) {
    const middle = (low + high + 1) >> 1
    if (ladder[middle]! <= value) low = middle
    else high = middle - 1
  }
  return low
}

/** How far the next step lies away where there is none: as far as the neighbouring one. */
const ratio = (ladder: readonly number[], step: number): number => {
  const before = ladder[step - 1]
  const after = ladder[step + 1]
  return before ? ladder[step]! / before : after ? after / ladder[step]! : 1.2
}
