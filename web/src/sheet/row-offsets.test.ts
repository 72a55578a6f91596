import { describe, expect, test } from 'vitest'
import { RowOffsets } from './row-offsets.ts'

/** The same by adding up every row. */
const byHand = (count: number, height: number, extras: Map<number, number>): number[] => {
  const starts = [0]
  for (let i = 0; i < count; i++) starts.push(starts[i]! + height + (extras.get(i) ?? 0))
  return starts
}

describe('offsets of rows', () => {
  const higher = [
    { index: 7, extra: 90 },
    { index: 2, extra: 10.5 },
    { index: 19, extra: 300 },
  ]
  const starts = byHand(20, 33, new Map(higher.map(row => [row.index, row.extra])))
  const offsets = new RowOffsets(20, 33, [...higher, { index: 40, extra: 1000 }])

  test('every row begins where the one before ends', () => {
    for (let i = 0; i <= 20; i++) expect(offsets.startOf(i)).toBe(starts[i])
    expect(offsets.height).toBe(starts[20])
  })
  test('every height belongs to the row that stands there', () => {
    for (let offset = 0; offset < offsets.height; offset += 0.5) {
      const at = offsets.rowAt(offset)
      expect(starts[at]!).toBeLessThanOrEqual(offset)
      expect(starts[at + 1]!).toBeGreaterThan(offset)
    }
    expect([offsets.rowAt(-50), offsets.rowAt(1e9)]).toEqual([0, 19])
  })
  test('scrolls no farther than it must', () => {
    expect(offsets.scrollFor(0, 0, 300)).toBe(0)
    expect(offsets.scrollFor(1, 200, 300)).toBe(33)
    expect(offsets.scrollFor(6, 0, 200)).toBe(starts[7]! - 200)
    expect(offsets.scrollFor(5, 150, 200)).toBe(150)
    // Higher than the window: its beginning.
    expect(offsets.scrollFor(19, 0, 200)).toBe(starts[19])
  })
  test('an empty list has no height', () => {
    const none = new RowOffsets(0, 33, [{ index: 0, extra: 5 }])
    expect([none.height, none.rowAt(10)]).toEqual([0, 0])
  })
})
