import { describe, expect, test } from 'vitest'
import { filledUp, makeScale, makeScaleOfFirstPages, onScale, shippedScale } from './level-scale.ts'

describe('the scale of levels', () => {
  const levels = Array.from({ length: 200 }, (_, i) => 20 + ((i * 37) % 200) / 4)
  const scale = makeScale(levels)
  test('is the share of sites below a level, as counting tells', () => {
    for (const level of [25, 33.3, 45, 57.1, 68]) {
      const counted = (100 * levels.filter(each => each < level).length) / levels.length
      expect(Math.abs(onScale(level, scale) - counted)).toBeLessThan(1)
    }
    expect(onScale(45, scale)).toBeCloseTo(50, 0)
  })
  test('rises with the level everywhere, from 0 to 100', () => {
    let before = -1
    for (let level = 0; level <= 100; level += 0.5) {
      const share = onScale(level, scale)
      expect(share).toBeGreaterThan(before)
      before = share
    }
    expect(onScale(0, scale)).toBe(0)
    expect(onScale(100, scale)).toBe(100)
    expect(onScale(19, scale)).toBeLessThan(1)
    expect(onScale(80, scale)).toBeGreaterThan(99)
  })
  test('of many equal levels the middle counts', () => {
    const same = makeScale([10, 30, 30, 30, 30, 30, 30, 30, 30, 70])
    expect(onScale(30, same)).toBeGreaterThan(45)
    expect(onScale(30, same)).toBeLessThan(55)
    expect(onScale(29.9, same)).toBeLessThan(onScale(30, same))
    expect(onScale(50, same)).toBeGreaterThan(onScale(30, same))
    expect(onScale(30, makeScale([30]))).toBe(50)
    expect(() => makeScale([])).toThrow(RangeError)
  })
  test('of first pages alone begins a quarter up: weaker sites hardly show there', () => {
    const first = makeScaleOfFirstPages(levels)
    expect(onScale(20, first)).toBeCloseTo(25, -0.5)
    expect(onScale(45, first)).toBeCloseTo(62.5, -0.5)
    expect(onScale(10, first)).toBeCloseTo(12.5, -0.5)
    expect(onScale(69.9, first)).toBeGreaterThan(99)
  })
  test('too few sites are filled up to 40 by the usual spread about them', () => {
    const few = [20, 22, 24, 26, 28, 30, 32, 34, 36, 38, 40, 42]
    const filled = filledUp(few)
    expect(filled).toHaveLength(40)
    expect(filled.slice(0, 12)).toEqual(few)
    expect(onScale(32, makeScale(filled))).toBeCloseTo(50, -1)
    expect(onScale(10, makeScale(filled))).toBeLessThan(10)
    expect(Math.min(...filledUp([2]))).toBe(0)
    expect(filledUp(levels)).toEqual(levels)
    expect(filledUp([])).toEqual([])
  })
  test('the shipped one is normal about 65 with 12', () => {
    expect(onScale(65, shippedScale)).toBeCloseTo(50, 1)
    expect(onScale(77, shippedScale)).toBeCloseTo(84.1, 0)
    expect(onScale(53, shippedScale)).toBeCloseTo(15.9, 0)
  })
})
