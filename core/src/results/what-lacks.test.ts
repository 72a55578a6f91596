import { expect, test } from 'vitest'
import { makeScale } from './level-scale.ts'
import { lackKinds, whatLacks } from './what-lacks.ts'

const scale = makeScale(Array.from({ length: 101 }, (_, i) => i))
const result = (
  title: 'phrase' | 'some',
  links: number | null,
  siteStanding: number | null,
  ageYears: number | null,
) => ({
  siteStanding,
  ageYears,
  links,
  fields: { title: { match: title, score: 1 } },
})

test('what the first ten results lack is counted, each of what is known', () => {
  const results = [
    result('phrase', 29, 60, 0.5),
    result('some', 30, 50, 3),
    result('some', null, null, null),
    result('phrase', 0, 10, null),
  ]
  const counts = Object.fromEntries(lackKinds.map((kind, i) => [kind, whatLacks(results, 55, scale)[i]]))
  expect(counts).toEqual({ title: 2, links: 2, level: 2, age: 1, small: 1 })
})

test('only the first ten count; what is known of none is unknown', () => {
  const many = Array.from({ length: 20 }, () => result('some', null, null, null))
  expect(whatLacks(many, 55, scale)).toEqual([10, null, null, null, null])
  expect(whatLacks([result('some', 1, 10, 1)], null, scale)).toEqual([1, 1, null, 0, 1])
  expect(whatLacks([], 55, scale)).toEqual([null, null, null, null, null])
})
