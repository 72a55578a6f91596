import { mannKendall } from './mann-kendall.ts'
import { seasonP } from './season-test.ts'
import { seasonalKendall } from './seasonal-kendall.ts'
import { median, theilSen } from './theil-sen.ts'

export type Trend = 'rising' | 'falling' | 'steady'
export type DemandPattern = {
  /** `null` with fewer than 12 known months. */
  trend: Trend | null
  /** Change of a year as a share of the year before, by the slope; `null` where the trend is. */
  yearly: number | null
  /** Share of chance that so clear a trend comes about by accident. */
  p: number | null
  /** Strength of the season F_s, 0–1; `null` with fewer than 24 known months. */
  season: number | null
  /** Calendar months (1–12) of the peak, best first, where the season is at least `seasonal`; else empty. */
  peaks: number[]
  /** Four or more identical months in a row: the source rounds. */
  rounded: boolean
}

/** From which strength on demand is called seasonal. */
export const seasonal = 0.3
const clear = 0.05
const sameInARow = 4

/**
 * What the months of a keyword show. Months oldest first, `null` unknown; `firstMonth` is the calendar month (1–12) of the
 * first. Logarithms of 1 + searches are looked at. Trend: with 24 months or more by seasonal Kendall, with fewer by Theil and Sen and
 * Mann–Kendall; called rising or falling only where p < 0.05. Season: where ranks of what is left without the trend differ by calendar month
 * with p < 0.05 and the season explains at least `seasonal` of the rest: F_s = max(0, 1 − Var(rest)/Var(season + rest)) (Wang, Smith & Hyndman
 * 2006), with variances by their degrees of freedom, as twelve months explain half of two years of noise. O(n²) for n months.
 */
export function demandPattern(months: ReadonlyArray<number | null>, firstMonth: number): DemandPattern {
  const logs = months.map(value => (value === null ? null : Math.log1p(value)))
  const known = logs.filter(value => value !== null).length
  const rounded = longestRun(months) >= sameInARow
  if (known < 12) return { trend: null, yearly: null, p: null, season: null, peaks: [], rounded }
  const { yearly, p } = known >= 24 ? bySeason(logs) : { yearly: 12 * theilSen(logs), p: mannKendall(logs) }
  const trend = p < clear && yearly !== 0 ? (yearly > 0 ? 'rising' : 'falling') : 'steady'
  const found = known >= 24 ? seasonIn(logs, yearly / 12, firstMonth) : null
  return {
    trend,
    yearly: Math.expm1(yearly),
    p,
    season: found?.strength ?? null,
    peaks: found && found.p < clear && found.strength >= seasonal ? peaksOf(found.levels) : [],
    rounded,
  }
}
function bySeason(logs: ReadonlyArray<number | null>): { yearly: number; p: number } {
  const { slope, p } = seasonalKendall(logs)
  // No calendar month is known twice: gaps left nothing to compare.
  return Number.isNaN(slope) ? { yearly: 12 * theilSen(logs), p: mannKendall(logs) } : { yearly: slope, p }
}

/** The season around a slope a month: levels of calendar months, its strength, and the share of chance that there is none. */
function seasonIn(
  logs: ReadonlyArray<number | null>,
  slope: number,
  firstMonth: number,
): { levels: number[]; strength: number; p: number } {
  const levels = seasonOf(logs, slope, firstMonth)
  const flat = logs.map((value, i) => (value === null ? null : value - slope * i))
  const known = flat.flatMap((value, i) =>
    value === null ? [] : [{ value, level: levels[(firstMonth - 1 + i) % 12]! }],
  )
  const whole = squares(known.map(each => each.value)) / (known.length - 1)
  const rest = squares(known.map(({ value, level }) => value - level)) / Math.max(1, known.length - 12)
  return { levels, strength: whole <= 0 ? 0 : Math.max(0, 1 - rest / whole), p: seasonP(flat) }
}

/** How far each calendar month (0–11) lies above the trend, in logs, adding up to 0. */
function seasonOf(logs: ReadonlyArray<number | null>, slope: number, firstMonth: number): number[] {
  const byMonth: number[][] = Array.from({ length: 12 }, () => [])
  logs.forEach((value, i) => {
    if (value !== null) byMonth[(firstMonth - 1 + i) % 12]!.push(value - slope * i)
  })
  const levels = byMonth.map(values => (values.length ? median(values) : null))
  const known = levels.filter(level => level !== null)
  const mean = known.reduce((sum, level) => sum + level, 0) / known.length
  return levels.map(level => (level === null ? 0 : level - mean))
}

/** Sum of squares around the mean. */
function squares(values: readonly number[]): number {
  const mean = values.reduce((sum, value) => sum + value, 0) / values.length
  return values.reduce((sum, value) => sum + (value - mean) ** 2, 0)
}

/** Calendar months within a tenth of the season's height of its top, at most three. */
function peaksOf(seasons: readonly number[]): number[] {
  const top = Math.max(...seasons)
  const reach = 0.2 * (top - Math.min(...seasons))
  return seasons
    .map((level, month) => ({ level, month: month + 1 }))
    .filter(each => each.level >= top - reach)
    .sort((a, b) => b.level - a.level || a.month - b.month)
    .slice(0, 3)
    .map(each => each.month)
}

function longestRun(months: ReadonlyArray<number | null>): number {
  let run = 0
  let longest = 0
  months.forEach((value, i) => {
    run = value !== null && value !== 0 && i > 0 && months[i - 1] === value ? run + 1 : 1
    longest = Math.max(longest, run)
  })
  return longest
}
