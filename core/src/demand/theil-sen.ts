/** Median of numbers; NaN of none. The input is not changed. */
export function median(values: readonly number[]): number {
  if (!values.length) return Number.NaN
  const sorted = [...values].sort((a, b) => a - b)
  const middle = sorted.length >> 1
  return sorted.length % 2 ? sorted[middle]! : (sorted[middle - 1]! + sorted[middle]!) / 2
}

/**
 * Slope of a series by Theil and Sen: the median of the slopes of all pairs (Sen 1968). `null` values are left out and keep
 * their time. Units of the values a step; NaN with fewer than two known values. O(n²).
 */
export function theilSen(values: ReadonlyArray<number | null>): number {
  const slopes: number[] = []
  for (let i = 0; i < values.length; i++) {
    const from = values[i]
    if (from === null || from === undefined) continue
    for (let j = i + 1; j < values.length; j++) {
      const to = values[j]
      if (to !== null && to !== undefined) slopes.push((to - from) / (j - i))
    }
  }
  return median(slopes)
}
