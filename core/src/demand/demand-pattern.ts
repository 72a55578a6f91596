import { mannKendall, median, theilSen } from './theil-sen.ts'

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
export const seasonal = 0.6
const clear = 0.05
const sameInARow = 4

/**
 * What the months of a keyword show. Months oldest first, `null` unknown; `firstMonth` is the calendar month (1–12) of the
 * first. Logarithms of 1 + searches are split into trend, season (median of what each calendar month lies above the trend)
 * and rest; with 24 months or more the trend is tested on the deseasonalised values. Trend: Theil–Sen slope, called
 * rising or falling only if Mann–Kendall p < 0.05. Season: F_s = max(0, 1 − Var(rest)/Var(season + rest)) (Wang, Smith &
 * Hyndman 2006). O(n²) for n months.
 */
export function demandPattern(months: ReadonlyArray<number | null>, firstMonth: number): DemandPattern {
  const logs = months.map(value => (value === null ? null : Math.log1p(value)))
  const known = logs.filter(value => value !== null).length
  const rounded = longestRun(months) >= sameInARow
  if (known < 12) return { trend: null, yearly: null, p: null, season: null, peaks: [], rounded }
  const rough = theilSen(logs)
  const seasons = known >= 24 ? seasonOf(logs, rough, firstMonth) : null
  const plain = seasons
    ? logs.map((value, i) => (value === null ? null : value - seasons[(firstMonth - 1 + i) % 12]!))
    : logs
  const slope = seasons ? theilSen(plain) : rough
  const p = mannKendall(plain)
  const strength = seasons ? strengthOf(plain, logs, slope, seasons, firstMonth) : null
  return {
    trend: p < clear && slope !== 0 ? (slope > 0 ? 'rising' : 'falling') : 'steady',
    yearly: Math.expm1(slope * 12),
    p,
    season: strength,
    peaks: seasons && strength !== null && strength >= seasonal ? peaksOf(seasons) : [],
    rounded,
  }
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

function strengthOf(
  plain: ReadonlyArray<number | null>,
  logs: ReadonlyArray<number | null>,
  slope: number,
  seasons: readonly number[],
  firstMonth: number,
): number {
  const rest: number[] = []
  const both: number[] = []
  plain.forEach((value, i) => {
    if (value === null || logs[i] === null) return
    rest.push(value - slope * i)
    both.push(value - slope * i + seasons[(firstMonth - 1 + i) % 12]!)
  })
  const whole = variance(both)
  return whole <= 0 ? 0 : Math.max(0, 1 - variance(rest) / whole)
}

function variance(values: readonly number[]): number {
  const mean = values.reduce((sum, value) => sum + value, 0) / values.length
  return values.reduce((sum, value) => sum + (value - mean) ** 2, 0) / values.length
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
