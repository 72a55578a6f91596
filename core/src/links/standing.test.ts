import { expect, test } from 'vitest'
import { placesOf } from './standing.ts'

test('places go by rank; equal ranks keep the order they have', () => {
  expect([...placesOf(Float64Array.from([0.1, 0.5, 0.1, 0.3]))]).toEqual([3, 1, 4, 2])
  expect([...placesOf(new Float64Array(0))]).toEqual([])
})
