import { kendallScore, normalBelow } from './mann-kendall.ts'
import { median } from './theil-sen.ts'

/**
 * Trend of a series with a season, month by calendar month (Hirsch, Slack & Smith 1982): `slope` a year, the median of all slopes between
 * values of one calendar month, and the two-sided `p` of no trend. A season cannot look like a trend, as months are compared with their
 * own kind alone. `null` values are left out. NaN and 1 without two values of one month. O(n²/12).
 */
export function seasonalKendall(values: ReadonlyArray<number | null>, period = 12): { slope: number; p: number } {
  const slopes: number[] = []
  let score = 0
  let variance = 0
  for (let month = 0; month < period; month++) {
    const own: number[] = []
    const years: number[] = []
    for (let i = month, year = 0; i < values.length; i += period, year++) {
      const value = values[i]
      if (value === null || value === undefined) continue
      for (let k = 0; k < own.length; k++) slopes.push((value - own[k]!) / (year - years[k]!))
      own.push(value)
      years.push(year)
    }
    const of = kendallScore(own)
    score += of.score
    variance += of.variance
  }
  if (variance <= 0 || score === 0) return { slope: median(slopes), p: 1 }
  const z = (Math.abs(score) - 1) / Math.sqrt(variance)
  return { slope: median(slopes), p: Math.min(1, 2 * (1 - normalBelow(z))) }
}
