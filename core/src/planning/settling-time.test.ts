import { describe, expect, test } from 'vitest'
import { type SettlingCheck, settlingDays, siteSettling } from './settling-time.ts'

/** Daily checks of a page that comes in at `from` and stands at `to` from a day on. */
const risen = (settles: number, from = 60, to = 6, until = 150): SettlingCheck[] =>
  Array.from({ length: until }, (_, day) => ({
    day,
    position: day >= settles ? to : Math.round(from + ((to - from) * day) / (settles + 20)),
  }))

describe('the days until a page has settled', () => {
  test.each([12, 35, 70])('are those until it stands where it stays: %i', settles => {
    expect(Math.abs(settlingDays(risen(settles))! - settles)).toBeLessThanOrEqual(2)
  })
  test('a bad day later is none, a bad week is', () => {
    const wobble = risen(30).map(each => (each.day === 60 ? { ...each, position: 40 } : each))
    expect(settlingDays(wobble)).toBe(settlingDays(risen(30)))
    const week = risen(30).map(each => (each.day >= 60 && each.day < 67 ? { ...each, position: 40 } : each))
    expect(settlingDays(week)!).toBeGreaterThan(60)
  })
  test('one that stands there from its first day has settled at once; not found before counts as far below', () => {
    expect(settlingDays(risen(0))).toBe(0)
    const late = risen(40).map(each => (each.day < 40 ? { ...each, position: -50 } : each))
    expect(Math.abs(settlingDays(late)! - 40)).toBeLessThanOrEqual(2)
  })
  test('too few checks, none at the beginning, or nowhere to stay tell nothing', () => {
    expect(settlingDays(risen(30, 60, 6, 95))).toBeNull()
    expect(settlingDays(risen(30).slice(40))).toBeNull()
    expect(settlingDays(risen(30).map(each => ({ ...each, position: -100 })))).toBeNull()
    expect(settlingDays([])).toBeNull()
  })
  test('weekly checks tell it too', () => {
    const weekly = risen(42).filter(each => each.day % 7 === 0)
    expect(Math.abs(settlingDays(weekly)! - 42)).toBeLessThanOrEqual(14)
  })
})

test('a site has its own figure from five pages on: the median', () => {
  expect(siteSettling([10, 20, 30, 40])).toEqual({ days: 60, pages: 0 })
  expect(siteSettling([90, 20, 30, 40, 10])).toEqual({ days: 30, pages: 5 })
})
