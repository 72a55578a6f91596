import { describe, expect, test } from 'vitest'
import { seededDraw } from '../links/seeded-draw.ts'
import { decodeMonth, encodeMonth } from './month-results.ts'

describe('a month of result pages', () => {
  test('comes back as it was written, days in order', () => {
    const days = [
      { day: 31, depth: 20, pages: [7, 300, 7, 0] },
      { day: 1, depth: 100, pages: [2_000_000_000, 7] },
      { day: 2, depth: 10, pages: [] },
    ]
    expect(decodeMonth(encodeMonth(days))).toEqual([days[1], days[2], days[0]])
    expect(decodeMonth(encodeMonth([]))).toEqual([])
  })
  test('the later of two of one day counts', () => {
    const first = { day: 4, depth: 20, pages: [1, 2] }
    const later = { day: 4, depth: 100, pages: [3] }
    expect(decodeMonth(encodeMonth([first, later]))).toEqual([later])
  })
  test('any lists come back, and daily lists of ten take fewer than four bytes a result', () => {
    const draw = seededDraw(5)
    for (let round = 0; round < 40; round++) {
      const pool = Array.from({ length: 25 }, () => Math.floor(draw() * 5_000_000))
      const days = Array.from({ length: 30 }, (_, i) => ({
        day: i + 1,
        depth: 20,
        pages: Array.from({ length: 10 }, () => pool[Math.floor(draw() * pool.length)]!),
      }))
      const bytes = encodeMonth(days)
      expect(decodeMonth(bytes)).toEqual(days)
      expect(bytes.length / 300).toBeLessThan(4)
    }
  })
  test('what is no day, no page and no month is refused', () => {
    expect(() => encodeMonth([{ day: 32, depth: 20, pages: [] }])).toThrow('32 is no day of a month')
    expect(() => encodeMonth([{ day: 1, depth: 20, pages: [-1] }])).toThrow('-1 is no number of a page')
    expect(() => decodeMonth(Uint8Array.of(9))).toThrow('no month')
    expect(() => decodeMonth(encodeMonth([{ day: 1, depth: 20, pages: [5] }]).subarray(0, 5))).toThrow(
      'end in the middle',
    )
    expect(() => decodeMonth(Uint8Array.of(1, 0, 0, 0))).toThrow('more than a month')
  })
})
