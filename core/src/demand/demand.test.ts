import { describe, expect, test } from 'vitest'
import { averageSearches } from './average-searches.ts'
import { clickShare, curveFromFirst, curveShare, expectedVisits, visitsFromChances } from './click-curve.ts'

describe('average searches', () => {
  test('unknown months are left out, not counted as zero', () => expect(averageSearches([null, 10, 30])).toBe(20))
  test('only the last twelve known months count', () =>
    expect(averageSearches([9_999, ...new Array(12).fill(5), null])).toBe(5))
  test('nothing known is unknown; zeros are zero', () => {
    expect(averageSearches([null, null])).toBeNull()
    expect(averageSearches([])).toBeNull()
    expect(averageSearches([0, 0])).toBe(0)
  })
})

describe('click curve', () => {
  test('falls with the place, on both devices, to nothing beyond 100', () => {
    for (const device of ['desktop', 'mobile'] as const) {
      for (let position = 2; position <= 101; position++)
        expect(clickShare(position, device)).toBeLessThan(clickShare(position - 1, device))
      expect(clickShare(101, device)).toBe(0)
      let sum = 0
      for (let position = 1; position <= 100; position++) sum += clickShare(position, device)
      expect(sum).toBeLessThan(1)
    }
  })
  test.each([0, -1, 1.5, Number.NaN])('%s is not a place', position =>
    expect(() => clickShare(position, 'desktop')).toThrow(RangeError),
  )
  test('visits of unknown searches are unknown', () => {
    expect(expectedVisits(null, 1, 'desktop')).toBeNull()
    expect(expectedVisits(100, 1, 'desktop')).toBeCloseTo(28)
  })
  test('visits from chances lie between those of place 20 and place 1 and grow with the chances', () => {
    const low = visitsFromChances(1000, { within3: 0.1, within10: 0.3, within20: 0.5 }, 'desktop')!
    const high = visitsFromChances(1000, { within3: 0.6, within10: 0.9, within20: 1 }, 'desktop')!
    expect(low).toBeGreaterThan(0)
    expect(high).toBeGreaterThan(low)
    expect(high).toBeLessThan(expectedVisits(1000, 1, 'desktop')!)
    expect(visitsFromChances(1000, { within3: 0, within10: 0, within20: 0 }, 'desktop')).toBe(0)
    expect(visitsFromChances(null, { within3: 1, within10: 1, within20: 1 }, 'desktop')).toBeNull()
  })
})

describe('a share that is set for the first place', () => {
  test('moves the default in proportion, beyond its end too', () => {
    const curve = curveFromFirst(0.42, 'desktop')
    expect(curve[0]).toBeCloseTo(0.42, 12)
    for (const position of [2, 10, 20, 35, 100])
      expect(curveShare(position, 'desktop', curve)).toBeCloseTo(1.5 * clickShare(position, 'desktop'), 12)
  })
  test('moves a curve of a log as well, however few places it has', () => {
    const curve = curveFromFirst(0.2, 'mobile', [0.4, 0.1])
    expect(curve.slice(0, 2)).toEqual([0.2, 0.05])
    expect(curve[4]! / curve[2]!).toBeCloseTo(clickShare(5, 'mobile') / clickShare(3, 'mobile'), 12)
  })
})
