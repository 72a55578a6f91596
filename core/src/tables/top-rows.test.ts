import { expect, test } from 'vitest'
import { topRows } from './top-rows.ts'

test('the largest come first, ties by place, unknown last', () => {
  const values = Float64Array.from([3, Number.NaN, 7, 3, 0, 7, -1])
  expect(topRows(values, 3)).toEqual([2, 5, 0])
  expect(topRows(values, 99)).toEqual([2, 5, 0, 3, 4, 6, 1])
  expect(topRows(values, 0)).toEqual([])
  expect(topRows(new Float64Array(0), 5)).toEqual([])
})

test('of many, the same as sorting them all', () => {
  const values = Float64Array.from({ length: 5_000 }, (_, i) => (i * 7_919) % 613)
  const sorted = [...values.keys()].sort((a, b) => values[b]! - values[a]! || a - b)
  expect(topRows(values, 900)).toEqual(sorted.slice(0, 900))
})
