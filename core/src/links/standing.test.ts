import { expect, test } from 'vitest'
import { positionsOf } from './standing.ts'

test('places go by rank; equal ranks keep the order they have', () => {
  expect([...positionsOf(Float64Array.from([0.1, 0.5, 0.1, 0.3]))]).toEqual([3, 1, 4, 2])
  expect([...positionsOf(new Float64Array(0))]).toEqual([])
})
