/** Kendall's score of a series against time, and its variance without a trend, corrected for ties. O(n²). */
export function kendallScore(known: readonly number[]): { score: number; variance: number } {
  const n = known.length
  let score = 0
  for (let i = 0; i < n; i++) for (let j = i + 1; j < n; j++) score += Math.sign(known[j]! - known[i]!)
  const ties = new Map<number, number>()
  for (const value of known) ties.set(value, (ties.get(value) ?? 0) + 1)
  let variance = n * (n - 1) * (2 * n + 5)
  for (const count of ties.values()) variance -= count * (count - 1) * (2 * count + 5)
  return { score, variance: variance / 18 }
}

/**
 * Two-sided p of the Mann–Kendall test of no monotone trend, normal approximation with correction for ties (Mann 1945, Kendall
 * 1975). 1 with fewer than four known values or when all are equal. O(n²).
 */
export function mannKendall(values: ReadonlyArray<number | null>): number {
  const known = values.filter((value): value is number => value !== null)
  if (known.length < 4) return 1
  const { score, variance } = kendallScore(known)
  if (variance <= 0 || score === 0) return 1
  const z = (Math.abs(score) - 1) / Math.sqrt(variance)
  return Math.min(1, 2 * (1 - normalBelow(z)))
}

/** Share of a standard normal below z, to 7.5e-8 (Abramowitz & Stegun 1964, 26.2.17). */
export function normalBelow(z: number): number {
  if (z < 0) return 1 - normalBelow(-z)
  const t = 1 / (1 + 0.2316419 * z)
  const tail = t * (0.31938153 + t * (-0.356563782 + t * (1.781477937 + t * (-1.821255978 + t * 1.330274429))))
  return 1 - (Math.exp((-z * z) / 2) / Math.sqrt(2 * Math.PI)) * tail
}
