import { expect, test } from 'vitest'
import { keptDepth, toDepth } from './kept-depth.ts'

const forEver = { results30: null, results10: null, results: null }

test('nothing set keeps all; each bound counts from the day after it on', () => {
  expect(keptDepth(10_000, forEver)).toBe(Number.POSITIVE_INFINITY)
  const kept = { results30: 90, results10: 180, results: 400 }
  expect([90, 91, 180, 181, 400, 401].map(days => keptDepth(days, kept))).toEqual([
    Number.POSITIVE_INFINITY,
    30,
    30,
    10,
    10,
    0,
  ])
  // A shorter time for all than for the deep ones: all go.
  expect(keptDepth(50, { results30: 90, results10: 180, results: 40 })).toBe(0)
})

test('what is left out is not looked for any more', () => {
  const pages = Array.from({ length: 20 }, (_, i) => i + 1)
  expect(
    toDepth(
      [
        { day: 3, depth: 100, pages },
        { day: 4, depth: 10, pages: [7] },
      ],
      10,
    ),
  ).toEqual([
    { day: 3, depth: 10, pages: [1, 2, 3, 4, 5, 6, 7, 8, 9, 10] },
    { day: 4, depth: 10, pages: [7] },
  ])
})
