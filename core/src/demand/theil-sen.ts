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

/**
 * Two-sided p of the Mann–Kendall test of no monotone trend, normal approximation with correction for ties (Mann 1945, Kendall
 * 1975). 1 with fewer than four known values or when all are equal. O(n²).
 */
export function mannKendall(values: ReadonlyArray<number | null>): number {
  const known = values.filter((value): value is number => value !== null)
  const n = known.length
  if (n < 4) return 1
  let score = 0
  for (let i = 0; i < n; i++) for (let j = i + 1; j < n; j++) score += Math.sign(known[j]! - known[i]!)
  const ties = new Map<number, number>()
  for (const value of known) ties.set(value, (ties.get(value) ?? 0) + 1)
  let variance = n * (n - 1) * (2 * n + 5)
  for (const count of ties.values()) variance -= count * (count - 1) * (2 * count + 5)
  variance /= 18
  if (variance <= 0 || score === 0) return 1
  const z = (Math.abs(score) - 1) / Math.sqrt(variance)
  return Math.min(1, 2 * (1 - normalBelow(z)))
}

/** Share of a standard normal below z, to 7.5e-8 (Abramowitz & Stegun 1964, 26.2.17). */
function normalBelow(z: number): number {
  if (z < 0) return 1 - normalBelow(-z)
  const t = 1 / (1 + 0.2316419 * z)
  const tail = t * (0.31938153 + t * (-0.356563782 + t * (1.781477937 + t * (-1.821255978 + t * 1.330274429))))
  return 1 - (Math.exp((-z * z) / 2) / Math.sqrt(2 * Math.PI)) * tail
}
