import { describe, expect, test } from 'vitest'
import { type Chances, chancePositions } from './first-page.ts'
import { chanceWithin, standingPage } from './own-page.ts'
import { defaultModel as model, newPageFacts, resultStrength, type SiteResult } from './strength.ts'

const result = (level: number, more: Partial<SiteResult> = {}) =>
  resultStrength({ ...newPageFacts(level), ...more }, model)

describe('the chance of a place within k', () => {
  const chances: Chances = { 1: 0.1, 3: 0.2, 5: 0.3, 10: 0.6, 20: 0.8 }
  test('is as told at the places that are told of, straight between them, and stays beyond', () => {
    for (const position of chancePositions) expect(chanceWithin(chances, position)).toBeCloseTo(chances[position], 12)
    expect(chanceWithin(chances, 4)).toBeCloseTo(0.25)
    expect(chanceWithin(chances, 15)).toBeCloseTo(0.7)
    expect(chanceWithin(chances, 40)).toBe(0.8)
  })
})

describe('a page that stands already', () => {
  const strong = Array.from({ length: 19 }, (_, i) => result(80 - i))
  test('is judged by its own strength, not by that of a new page of its site', () => {
    const weak = standingPage(19, 20, [...strong, result(60, { fit: 30, coverage: 0 })], model)
    const good = standingPage(19, 20, [...strong, result(90)], model)
    expect(weak.position).toBe(20)
    expect(weak.first).toBeLessThan(0.2)
    expect(good.first).toBeGreaterThan(0.8)
    expect(weak.higher!).toBeGreaterThan(weak.first)
    // On the first page it is there, whatever its strength tells.
    const there = standingPage(8, 9, [...strong.slice(0, 8), result(20), ...strong.slice(8)], model)
    expect(there.first).toBe(1)
    expect(there.higher!).toBeLessThan(0.3)
  })
  test('says what separates it from the first page, most first', () => {
    const { gap } = standingPage(19, 20, [...strong, result(60, { fit: 30 })], model)
    expect(gap.map(each => each.feature)).toEqual(['siteStanding', 'fit'])
    expect(gap[0]!.adds).toBeCloseTo((1.6 / 12) * 15.5)
    expect(gap[1]!.adds).toBeCloseTo((0.4 / 18) * 60)
    // As strong as they are: nothing that is known explains it.
    expect(standingPage(19, 20, [...strong, result(85)], model).gap).toEqual([])
  })
  test('at the top cannot rise, and has nobody above it', () => {
    expect(standingPage(0, 1, [result(90), ...strong], model)).toMatchObject({ position: 1, higher: null, gap: [] })
    expect(standingPage(0, 1, [result(50)], model)).toMatchObject({ first: 1, higher: null })
  })
})
