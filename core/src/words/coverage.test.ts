import { describe, expect, test } from 'vitest'
import { contentStems, coverageOf, coverValue, isLonger } from './coverage.ts'

describe('how a text covers phrases', () => {
  const cover = coverageOf('Our kick wheels turn. A pottery wheel for kids!\nPrices of stoneware, by the bag.', 'en')
  test.each([
    ['pottery wheel', 'phrase'],
    ['Pottery Wheel for kids', 'phrase'],
    ['kick wheel', 'words'],
    ['stoneware price', 'words'],
    ['wheel pottery', 'words'],
    ['raku kiln', 'no'],
    ['pottery wheel second hand', 'no'],
    ['', 'no'],
  ])('%j: %s', (phrase, expected) => expect(cover(phrase)).toBe(expected))
  test('no phrase runs from one word into a part of another', () => expect(cover('our kick wheel')).not.toBe('phrase'))
  test('an empty text covers nothing', () => expect(coverageOf('', 'en')('clay')).toBe('no'))
})
test('longer forms have all words of the head and one more that means something', () => {
  expect(isLonger('pottery wheels for beginners', 'pottery wheel', 'en')).toBe(true)
  expect(isLonger('the pottery wheel', 'pottery wheel', 'en')).toBe(false)
  expect(isLonger('beginner wheel', 'pottery wheel', 'en')).toBe(false)
  expect(contentStems('wheel for the wheel', 'en')).toEqual(['wheel'])
})
test('value of covering: unknown stays unknown, harder is worth less', () => {
  expect(coverValue(100, 2, 0)).toBe(200)
  expect(coverValue(100, 2, null)).toBe(100)
  expect(coverValue(100, 2, 75)).toBe(50)
  expect(coverValue(null, 2, 5)).toBeNull()
  expect(coverValue(100, null, 5)).toBeNull()
})
