import { expect, test } from 'vitest'
import { subjectsOf } from './subjects.ts'

test('words count together in all their forms, by weight; one keyword alone makes no subject', () => {
  const keywords = [
    { phrase: 'kilns for sale', weight: 10 },
    { phrase: 'kiln price', weight: 40 },
    { phrase: 'glaze for a kiln', weight: 5 },
    { phrase: 'glaze', weight: 20 },
    { phrase: 'raku', weight: 900 },
  ]
  expect(subjectsOf(keywords, 'en', 5)).toEqual([
    { word: 'kiln', weight: 55, keywords: 3 },
    { word: 'glaze', weight: 25, keywords: 2 },
  ])
  expect(subjectsOf(keywords, 'en', 1)).toHaveLength(1)
  expect(subjectsOf([], 'en', 5)).toEqual([])
})
test('a word twice in a keyword counts once', () => {
  const keywords = [
    { phrase: 'clay to clay', weight: 3 },
    { phrase: 'clay', weight: 1 },
  ]
  expect(subjectsOf(keywords, 'en', 5)).toEqual([{ word: 'clay', weight: 4, keywords: 2 }])
})
