import { describe, expect, test } from 'vitest'
import { seededDraw } from '../links/seeded-draw.ts'
import type { KnownPages } from './neighbour-residuals.ts'
import { normalDraw } from './normal-draw.ts'
import { pageShare } from './page-share.ts'

/** Pages with 25 results each of some addresses; what a result shows is what its page always shows and what is its own, with these spreads. */
function made(count: number, addresses: number, ofPage: number, ofResult: number): KnownPages {
  const random = seededDraw(5)
  const always = Array.from({ length: addresses }, () => ofPage * normalDraw(random))
  return {
    addresses: always.map((_, i) => `https://a.example/${i}`),
    pages: Array.from({ length: count }, (_, page) => {
      const at = Array.from({ length: 25 }, (_, i) => (page * 7 + i * 11) % addresses)
      return { key: `keyword ${page}`, at, beyond: at.map(address => always[address]! + ofResult * normalDraw(random)) }
    }),
  }
}

describe('the share of a page in what strengths do not tell', () => {
  test('is found where it is known', () => {
    expect(pageShare(made(300, 400, 0.6, 1))).toBeCloseTo(0.36 / 1.36, 1)
    expect(pageShare(made(300, 400, 1, 1))).toBeCloseTo(0.5, 1)
  })
  test('is about nothing where pages show something else each time, and never less', () => {
    const share = pageShare(made(300, 400, 0, 1))
    expect(share).toBeGreaterThanOrEqual(0)
    expect(share).toBeLessThan(0.03)
  })
  test('does not depend on the scale', () => {
    const { addresses, pages } = made(200, 300, 0.6, 1)
    const larger = pages.map(page => ({ ...page, beyond: page.beyond.map(each => 8 * each) }))
    expect(pageShare({ addresses, pages: larger })).toBeCloseTo(pageShare({ addresses, pages }))
  })
  test('leaves some doubt, however much pages differ', () => {
    expect(pageShare(made(300, 400, 50, 1))).toBe(0.75)
  })
  test('looks at the first 25 results only', () => {
    const { addresses, pages } = made(200, 300, 0.6, 1)
    const deeper = pages.map(page => ({
      ...page,
      at: [...page.at, ...page.at.map(address => (address + 1) % 300)],
      beyond: [...page.beyond, ...page.at.map(() => 100)],
    }))
    expect(pageShare({ addresses, pages: deeper })).toBe(pageShare({ addresses, pages }))
  })
  test('is nothing where too few addresses stand on several pages, or none shows anything', () => {
    expect(pageShare({ addresses: [], pages: [] })).toBe(0)
    expect(pageShare(made(1, 400, 1, 1))).toBe(0)
    expect(pageShare(made(40, 25, 1, 1))).toBe(0)
    expect(pageShare(made(300, 400, 0, 0))).toBe(0)
  })
})
