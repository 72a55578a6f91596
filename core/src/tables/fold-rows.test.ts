import { describe, expect, test } from 'vitest'
import { ColumnStore } from './column-store.ts'
import { foldRows, groupRows } from './fold-rows.ts'
import { familyOnce } from './once-by.ts'
import { nthSmallest, sumRows } from './sum-rows.ts'

const store = new ColumnStore([
  { key: 'family', kind: 'number' },
  { key: 'searches', kind: 'number' },
])
store.upsert({
  ids: [10, 11, 12, 13, 14, 15],
  columns: { family: [1, 1, 2, 1, null, 2], searches: [50, 80, 5, null, 7, 5] },
})
const all = Uint32Array.from([0, 1, 2, 3, 4, 5])
const fold = (rows: Uint32Array, open: number[] = []) => foldRows(store, rows, 'family', 'searches', new Set(open))

describe('folding', () => {
  test('shows the most searched of a group, in the order of faces; rows of no group stay alone', () => {
    const folded = fold(all)
    expect([...folded.rows]).toEqual([1, 2, 4])
    expect([...all].map(folded.sizeOf)).toEqual([1, 3, 2, 1, 1, 1])
  })
  test('an open face is followed by its members, marked as inside', () => {
    const folded = fold(all, [11])
    expect([...folded.rows]).toEqual([1, 0, 3, 2, 4])
    expect([...all].filter(folded.isInside)).toEqual([0, 3])
  })
  test('only given rows count; every given row is either shown or under a face', () => {
    const folded = fold(Uint32Array.from([0, 3, 5]))
    expect([...folded.rows]).toEqual([0, 5])
    expect([...all].map(folded.sizeOf)).toEqual([2, 1, 1, 1, 1, 1])
    expect(() => foldRows(store, all, 'family', 'nothing', new Set())).toThrow(TypeError)
    expect(() => groupRows(store, 'nothing')).toThrow(TypeError)
  })
})

describe('sums once a family', () => {
  test('equal figures of one group enter once, different ones add up, others are not touched', () => {
    expect(sumRows(store, all, 'searches').sum).toBe(147)
    expect(sumRows(store, all, 'searches', familyOnce)).toMatchObject({ sum: 142, known: 4, unknown: 1, repeats: 1 })
  })
})

describe('selection', () => {
  test('finds what sorting finds, for even, sorted and repeated values too', () => {
    let seed = 3
    const next = () => (seed = (seed * 16807) % 2147483647)
    for (let round = 0; round < 200; round++) {
      const size = 1 + (next() % 40)
      const values = Float64Array.from({ length: size }, () => next() % (round % 3 ? 1_000 : 4))
      if (round % 5 === 0) values.sort()
      const sorted = Float64Array.from(values).sort()
      const n = next() % size
      expect(nthSmallest(values, n)).toBe(sorted[n])
    }
  })
})
