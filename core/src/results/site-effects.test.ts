import { describe, expect, test } from 'vitest'
import { fitSiteEffects, type ResultOfSite } from './site-effects.ts'

const allSimilar = (): number => 1
/** Result pages of twelve sites of falling strength, in which one stands `places` higher than its strength says. */
const madePages = (count: number, positions: number, who = 'better'): ResultOfSite[][] =>
  Array.from({ length: count }, () => {
    const page = Array.from({ length: 12 }, (_, i) => ({
      strength: 3 - i / 2,
      key: i === 8 ? who : `site-${i}`,
    }))
    const [moved] = page.splice(8, 1)
    page.splice(8 - positions, 0, moved!)
    return page
  })

describe('siteEffects', () => {
  test('of what stands higher than its strength are above 0, the more so the more results show it', () => {
    const often = fitSiteEffects(madePages(40, 6), allSimilar, 5)
    expect(often.better).toBeGreaterThan(1)
    expect(often.better).toBeGreaterThan(
      Math.max(...Object.entries(often).map(([key, value]) => (key === 'better' ? -9 : value))),
    )
    expect(fitSiteEffects(madePages(2, 6), allSimilar, 5).better).toBeLessThan(0.6 * often.better!)
    expect(fitSiteEffects(madePages(2, 6), allSimilar, 5).better).toBeGreaterThan(0)
  })
  test('of what stands where its strength says are about alike, and a larger pull makes all smaller', () => {
    const even = Object.values(fitSiteEffects(madePages(40, 0), allSimilar, 5))
    const pulled = Object.values(fitSiteEffects(madePages(40, 0), allSimilar, 500))
    const reach = (list: number[]): number => Math.max(...list) - Math.min(...list)
    expect(reach(pulled)).toBeLessThan(reach(even) / 3)
  })
  test('results of the same key are not set against each other, nor those without one', () => {
    const page = [
      { strength: 1, key: 'one' },
      { strength: 2, key: 'one' },
      { strength: 0, key: undefined },
    ]
    expect(fitSiteEffects([page, page], allSimilar, 5)).toEqual({ one: 0 })
    expect(fitSiteEffects([], allSimilar, 5)).toEqual({})
  })
  test('what happens above the pairs that count shows nothing', () =>
    expect(fitSiteEffects(madePages(40, 6), upper => (upper < 8 ? 0 : 1), 5).better).toBe(0))
})
