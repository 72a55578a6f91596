import { describe, expect, test } from 'vitest'
import { clickShare } from '../demand/click-curve.ts'
import { decodeDay, encodeDay, mergeDay, notFound, positionAt } from './day-vector.ts'
import { keywordVisibility } from './keyword-visibility.ts'
import { positionChange, positionsGained } from './position-change.ts'
import { positionSpread } from './spread.ts'
import { visibility } from './visibility.ts'

describe('day vectors', () => {
  test('survive the way through bytes, whatever their alignment', () => {
    const vector = Int16Array.from([1, 0, -100, 57, 1000])
    const odd = new Uint8Array(encodeDay(vector).length + 1)
    odd.set(encodeDay(vector), 1)
    expect([...decodeDay(odd.subarray(1))]).toEqual([...vector])
    expect(() => decodeDay(new Uint8Array(3))).toThrow(RangeError)
  })
  test('merging grows, replaces what is named, keeps the rest', () => {
    const merged = mergeDay(
      Int16Array.from([5, 6]),
      new Map([
        [1, 7],
        [4, notFound(100)],
      ]),
    )
    expect([...merged]).toEqual([5, 7, 0, 0, -100])
    expect([...mergeDay(null, new Map([[0, 3]]))]).toEqual([3])
    expect(() => mergeDay(null, new Map([[-1, 3]]))).toThrow(RangeError)
  })
  test('slots beyond the end were not checked', () => {
    expect(positionAt(Int16Array.from([4]), 9)).toBe(0)
    expect(positionAt(null, 0)).toBe(0)
  })
  test('a depth must be sensible', () => {
    expect(notFound(30)).toBe(-30)
    expect(() => notFound(0)).toThrow(RangeError)
  })
})

describe('change', () => {
  test.each([
    [9, 4, { kind: 'up', positions: 5, from: 9, to: 4 }],
    [4, 9, { kind: 'down', positions: 5, from: 4, to: 9 }],
    [4, 4, { kind: 'same', positions: 0, from: 4, to: 4 }],
    [-100, 8, { kind: 'new', to: 8, outside: 100 }],
    [8, -50, { kind: 'out', from: 8, outside: 50 }],
    [-100, -100, { kind: 'absent', outside: 100 }],
    [0, 5, { kind: 'unknown' }],
    [5, 0, { kind: 'unknown' }],
    [0, -100, { kind: 'unknown' }],
  ])('%d → %d', (before, now, expected) => expect(positionChange(before, now)).toEqual(expected))
})

describe('visibility of one keyword', () => {
  const at = (now: number, before: number, device: 'desktop' | 'mobile' = 'desktop') => ({ now, before, device })
  test('is the mean over the markets it was checked in', () => {
    expect(keywordVisibility([at(1, 0), at(-100, 0)]).now).toBeCloseTo(50)
    expect(keywordVisibility([at(1, 0), at(0, 0)]).now).toBeCloseTo(100)
    expect(keywordVisibility([at(0, 4)])).toEqual({ now: null, change: null })
  })
  test('its change counts markets that were checked both times', () => {
    expect(keywordVisibility([at(1, -100), at(1, 0)])).toEqual({ now: 100, change: 100 })
    expect(keywordVisibility([at(3, 3, 'mobile'), at(5, 0)]).change).toBe(0)
  })
})

describe('positions gained', () => {
  test.each([
    [12, 4, 8],
    [4, 12, -8],
    [5, 5, 0],
    [-100, 8, 93],
    [9, -100, -92],
    [-100, -100, null],
    [0, 5, null],
  ])('%d → %d is %s', (before, now, gained) => expect(positionsGained(positionChange(before, now))).toBe(gained))
})

describe('visibility', () => {
  test('first everywhere is 100, found nowhere 0, nothing checked unknown', () => {
    const searches = Float64Array.from([100, 50])
    expect(visibility(Int16Array.from([1, 1]), searches, 'desktop')).toBeCloseTo(100)
    expect(visibility(Int16Array.from([-100, -100]), searches, 'desktop')).toBe(0)
    expect(visibility(Int16Array.from([0, 0]), searches, 'desktop')).toBeNull()
  })
  test('unchecked keywords and unknown searches stay out of both sums', () => {
    const searches = Float64Array.from([100, Number.NaN, 900])
    expect(visibility(Int16Array.from([2, 1, 0]), searches, 'desktop')).toBeCloseTo(
      (100 * clickShare(2, 'desktop')) / clickShare(1, 'desktop'),
    )
  })
  test('slots without searches yet are left out', () =>
    expect(visibility(Int16Array.from([1, 1]), Float64Array.from([10]), 'mobile')).toBeCloseTo(100))
})

test('the spread counts every checked keyword once', () => {
  expect(positionSpread(Int16Array.from([1, 3, 4, 10, 11, 30, 31, 100, -100, 0]))).toEqual({
    top3: 2,
    top10: 2,
    top30: 2,
    beyond: 2,
    notFound: 1,
  })
})
