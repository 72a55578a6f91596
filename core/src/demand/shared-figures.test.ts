import { expect, test } from 'vitest'
import { figureParts } from './shared-figures.ts'

test('forms with one figure share it; other figures of the family, zero and unknown stand alone', () => {
  const rows = [
    { family: 'kiln', searches: 90 },
    { family: 'kiln', searches: 90 },
    { family: 'kiln', searches: 40 },
    { family: 'clay', searches: 90 },
    { family: 'kiln', searches: null },
    { family: 'kiln', searches: null },
    { family: 'kiln', searches: 0 },
    { family: 'kiln', searches: 90 },
  ]
  expect(figureParts(rows)).toEqual([1 / 3, 1 / 3, 1, 1, 1, 1, 1, 1 / 3])
  expect(figureParts([])).toEqual([])
})
