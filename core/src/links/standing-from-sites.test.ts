import { expect, test } from 'vitest'
import { standingFromSites } from './standing-from-sites.ts'

test('zero linking sites is standing 0, the reference is 100, unknown stays unknown', () => {
  expect(standingFromSites(0, 1000)).toBe(0)
  expect(standingFromSites(1000, 1000)).toBe(100)
  expect(standingFromSites(50_000, 1000)).toBe(100)
  expect(standingFromSites(9, 99)).toBeCloseTo(50)
  expect(standingFromSites(null, 1000)).toBeNull()
  expect(() => standingFromSites(1, 0)).toThrow(RangeError)
})
