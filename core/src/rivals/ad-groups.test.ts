import { expect, test } from 'vitest'
import { type AdKeyword, groupForAds, highestBid } from './ad-groups.ts'

const keyword = (id: number, phrase: string, searches: number | null = 10): AdKeyword => ({
  id,
  phrase,
  searches,
  cpc: 1,
  bidLow: null,
  bidHigh: null,
})
const how = { language: 'en', least: 2, restName: 'others' }

test('a word that most share makes a group, named by its frequent form; a word that all have parts nothing', () => {
  const groups = groupForAds(
    [
      keyword(1, 'kiln for beginners', 90),
      keyword(2, 'beginner kiln', 500),
      keyword(3, 'kiln beginner set', 20),
      keyword(4, 'used kiln', null),
      keyword(5, 'used electric kiln', 30),
      keyword(6, 'raku kiln', 40),
    ],
    how,
  )
  expect(groups.map(({ name, keywords }) => [name, keywords.map(({ id }) => id)])).toEqual([
    ['beginner', [2, 1, 3]],
    ['used', [5, 4]],
    ['others', [6]],
  ])
})

test('every keyword is in one group, whatever the least size', () => {
  const keywords = ['red clay', 'white clay', 'red glaze', 'clay glaze', 'bisque'].map((phrase, i) =>
    keyword(i + 1, phrase),
  )
  for (const least of [1, 2, 3, 9]) {
    const ids = groupForAds(keywords, { ...how, least }).flatMap(group => group.keywords.map(({ id }) => id))
    expect(ids.toSorted()).toEqual([1, 2, 3, 4, 5])
  }
  expect(groupForAds([], how)).toEqual([])
})

test.each([
  [{ bidLow: 0.4, bidHigh: 1.2 }, null, 0.8],
  [{ bidLow: 0.4, bidHigh: 1.2 }, 0.5, 0.5],
  [{ bidLow: null, bidHigh: 1.2 }, null, 1],
  [{ cpc: null }, 3, null],
])('the highest bid of %j worth %s is %s', (bids, worth, bid) =>
  expect(highestBid({ ...keyword(1, 'kiln'), ...bids }, worth)).toBe(bid),
)
