import { describe, expect, test } from 'vitest'
import { demandPattern } from './demand-pattern.ts'
import { fitClickCurve, nonIncreasing } from './fit-click-curve.ts'
import { clickShare, curveShare } from './click-curve.ts'
import { searchesFromLog, seenShare } from './hidden-demand.ts'
import { findLadder, searchRange } from './search-range.ts'
import { mannKendall } from './mann-kendall.ts'
import { fAbove, seasonP } from './season-test.ts'
import { seasonalKendall } from './seasonal-kendall.ts'
import { median, theilSen } from './theil-sen.ts'

/** A repeatable stream of numbers in [0, 1). */
const chances = (seed: number) => () => (seed = (seed * 16807) % 2147483647) / 2147483647
const series = (length: number, at: (i: number) => number): number[] => Array.from({ length }, (_, i) => at(i))

describe('Theil–Sen and Mann–Kendall', () => {
  test('the slope of a line is its slope, whatever one wild month says, unknown months left out', () => {
    expect(theilSen([1, 3, 5, 7])).toBe(2)
    expect(theilSen([1, 3, null, 7, 9, 1000])).toBeCloseTo(2, 0)
    expect(theilSen([5])).toBeNaN()
    expect(median([3, 1, 2])).toBe(2)
    expect(median([4, 1, 2, 3])).toBe(2.5)
  })
  test('p is small for a clear trend, 1 for none, and about right for noise', () => {
    expect(mannKendall(series(24, i => i))).toBeLessThan(0.001)
    expect(mannKendall([3, 3, 3, 3, 3])).toBe(1)
    expect(mannKendall([1, 2])).toBe(1)
    const next = chances(5)
    const falseAlarms = series(400, () => mannKendall(series(24, next))).filter(p => p < 0.05).length
    expect(falseAlarms).toBeGreaterThan(4)
    expect(falseAlarms).toBeLessThan(40)
  })
})

describe('seasonal Kendall', () => {
  test('months are compared with their own kind: a season is no trend, growth shows through it', () => {
    const season = (i: number) => [0, 1, 3, 6, 9, 7, 5, 4, 3, 2, 1, 0][i % 12]!
    expect(seasonalKendall(series(24, season))).toEqual({ slope: 0, p: 1 })
    const grown = seasonalKendall(series(36, i => season(i) + 0.5 * Math.floor(i / 12)))
    expect(grown.slope).toBe(0.5)
    expect(grown.p).toBeLessThan(1e-6)
    // By hand: of twelve months nine rise and three fall, so S = 6, Var = 12, z = 5/√12.
    const nine = seasonalKendall([...new Array(12).fill(1), ...series(12, i => (i < 9 ? 2 : 0))])
    expect(nine.p).toBeCloseTo(2 * (1 - 0.92554), 3)
  })
  test('without two values of one month there is nothing to say', () => {
    expect(seasonalKendall(series(12, i => i))).toEqual({ slope: Number.NaN, p: 1 })
    expect(seasonalKendall([1, null, 3])).toMatchObject({ p: 1 })
  })
})

describe('the test of a season', () => {
  test('the F distribution is that of the tables', () => {
    expect(fAbove(4.9646, 1, 10)).toBeCloseTo(0.05, 5)
    expect(fAbove(2.7173, 11, 12)).toBeCloseTo(0.05, 4)
    expect(fAbove(9.6462, 5, 5)).toBeCloseTo(0.0133, 3)
    expect(fAbove(0, 3, 3)).toBe(1)
  })
  test('holds its size on noise, finds a season, and is 1 where no month is known twice', () => {
    const next = chances(7)
    const alarms = series(600, () => seasonP(series(24, next))).filter(p => p < 0.05).length
    expect(alarms).toBeGreaterThan(10)
    expect(alarms).toBeLessThan(45)
    expect(seasonP(series(24, i => (i % 12) + 0.1 * next()))).toBeLessThan(1e-4)
    expect(seasonP(series(12, next))).toBe(1)
    expect(seasonP(new Array(24).fill(5))).toBe(1)
  })
})

describe('the pattern of demand', () => {
  const next = chances(11)
  const noisy = (growth: number, depth: number) =>
    series(48, i => 1000 * Math.exp(growth * i + depth * Math.cos(((i - 11) / 6) * Math.PI) + 0.04 * (next() - 0.5)))
  test('growth shows through a season, and the season through growth', () => {
    const up = demandPattern(noisy(0.02, 0.5), 1)
    expect(up.trend).toBe('rising')
    expect(up.yearly).toBeCloseTo(Math.expm1(0.24), 1)
    expect(up.season).toBeGreaterThan(0.9)
    expect(up.peaks[0]).toBe(12)
    expect(demandPattern(noisy(-0.02, 0.5), 1).trend).toBe('falling')
    const flat = demandPattern(noisy(0, 0), 1)
    expect(flat.season).toBeLessThan(0.3)
    expect(flat.peaks).toEqual([])
  })
  test('the calendar month of the first figure moves the peak', () =>
    expect(demandPattern(noisy(0, 0.5), 4).peaks[0]).toBe(3))
  test('too few months say nothing, and nothing is made up', () => {
    expect(demandPattern([1, 2, 3], 1)).toMatchObject({ trend: null, yearly: null, season: null, peaks: [] })
    expect(demandPattern(new Array(48).fill(null), 1)).toMatchObject({ trend: null, season: null, rounded: false })
    expect(
      demandPattern(
        series(12, i => i),
        1,
      ).season,
    ).toBeNull()
  })
  test('four equal months in a row are rounded; zeros are not', () => {
    expect(demandPattern([10, 20, 20, 20, 20], 1).rounded).toBe(true)
    expect(demandPattern([20, 20, 20, 10], 1).rounded).toBe(false)
    expect(demandPattern([0, 0, 0, 0, 0], 1).rounded).toBe(false)
  })
})

describe('the range of searches', () => {
  const steps = [10, 12, 15, 18, 22, 27, 33, 40]
  test('a ladder is found where figures repeat, none where they do not', () => {
    expect(findLadder(series(800, i => steps[i % steps.length]!))).toEqual(steps)
    expect(findLadder(series(800, i => i + 1))).toEqual([])
    expect(findLadder(steps)).toEqual([])
  })
  test('a true value rounded to a step lies inside the range of the step', () => {
    const next = chances(3)
    for (let i = 0; i < 200; i++) {
      const value = 11 + 25 * next()
      const step = steps.reduce((best, each) =>
        Math.abs(Math.log(each / value)) < Math.abs(Math.log(best / value)) ? each : best,
      )
      const range = searchRange(new Array(12).fill(step), steps)!
      expect(range.low).toBeLessThanOrEqual(value)
      expect(range.high).toBeGreaterThanOrEqual(value)
    }
  })
  test('without a ladder the months spread the range; unknown stays unknown; zero is below the lowest step', () => {
    expect(searchRange([null, null], steps)).toBeNull()
    expect(
      searchRange(
        series(12, i => i * 10),
        [],
      ),
    ).toEqual({ low: 10, high: 100 })
    expect(searchRange([0], steps)).toEqual({ low: 0, high: 7.5 })
  })
})

describe('hidden demand', () => {
  test('impressions at a low place mean more searches than at a high one', () => {
    expect(searchesFromLog({ impressions: 100, clicks: 0, position: 2 }, 30, 'desktop')).toBe(100)
    expect(searchesFromLog({ impressions: 100, clicks: 0, position: 15 }, 30, 'desktop')).toBeCloseTo(1000)
    expect(searchesFromLog({ impressions: 100, clicks: 0, position: 60 }, 30, 'desktop')).toBe(100)
    for (let position = 2; position < 60; position++)
      expect(seenShare(position, 'mobile')).toBeLessThanOrEqual(seenShare(position - 1, 'mobile'))
    expect(() => seenShare(0, 'desktop')).toThrow(RangeError)
  })
})

describe('fitting the click curve', () => {
  /** The best non-increasing fit by trying all ways to pool, for short lists. */
  const slow = (values: number[], weights: number[]): number => {
    let best = Number.POSITIVE_INFINITY
    for (let cuts = 0; cuts < 1 << (values.length - 1); cuts++) {
      let cost = 0
      let last = Number.POSITIVE_INFINITY
      let start = 0
      let legal = true
      for (let i = 0; i < values.length; i++) {
        if (i < values.length - 1 && !(cuts & (1 << i))) continue
        const part = values.slice(start, i + 1)
        const weight = weights.slice(start, i + 1)
        const mean = part.reduce((sum, value, k) => sum + value * weight[k]!, 0) / weight.reduce((a, b) => a + b, 0)
        if (mean > last + 1e-12) legal = false
        cost += part.reduce((sum, value, k) => sum + weight[k]! * (value - mean) ** 2, 0)
        last = mean
        start = i + 1
      }
      if (legal) best = Math.min(best, cost)
    }
    return best
  }
  test('pooling gives the best fit that never rises', () => {
    const next = chances(9)
    for (let round = 0; round < 60; round++) {
      const values = series(7, next)
      const weights = series(7, () => 0.1 + next())
      const fit = nonIncreasing(values, weights)
      const cost = values.reduce((sum, value, i) => sum + weights[i]! * (value - fit[i]!) ** 2, 0)
      expect(cost).toBeCloseTo(slow(values, weights), 9)
      for (let i = 1; i < fit.length; i++) expect(fit[i]!).toBeLessThanOrEqual(fit[i - 1]! + 1e-12)
    }
  })
  test('without a log it is the default; with a large one it is the log', () => {
    const plain = fitClickCurve([], 'desktop').shares
    for (const [i, share] of plain.entries()) expect(share).toBeCloseTo(clickShare(i + 1, 'desktop'), 9)
    const counts = series(20, i => 0.4 * 0.8 ** i).map(share => ({ impressions: 1e6, clicks: Math.round(1e6 * share) }))
    for (const [i, share] of fitClickCurve(counts, 'desktop').shares.entries())
      expect(share).toBeCloseTo(0.4 * 0.8 ** i * seenShare(i + 1, 'desktop'), 3)
    expect(() => fitClickCurve([{ impressions: 1, clicks: 2 }], 'desktop')).toThrow(RangeError)
  })
  test('beyond the fitted places the default goes on where the curve ends', () => {
    const curve = fitClickCurve([], 'mobile').shares.map(share => share * 0.5)
    expect(curveShare(20, 'mobile', curve)).toBeCloseTo(clickShare(20, 'mobile') * 0.5)
    expect(curveShare(40, 'mobile', curve)).toBeCloseTo(clickShare(40, 'mobile') * 0.5)
  })
})
