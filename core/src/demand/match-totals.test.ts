import { describe, expect, test } from 'vitest'
import { matchTotals } from './match-totals.ts'

const body = (rows: Array<[phrase: string, searches: number | null, figures?: number]>) =>
  matchTotals(
    rows.map(([phrase, searches, figures], i) => ({ words: phrase.split(' '), searches, figures: figures ?? -i })),
  )

describe('searches by match', () => {
  test('phrases that hold the keyword side by side, in its order, and anywhere', () => {
    const { inOrder, anyOrder, others } = body([
      ['pottery wheel', 100],
      ['best pottery wheel', 20],
      ['wheel for pottery', 7],
      ['pottery kick wheel', 3],
      ['kiln', 5],
    ])
    expect([...inOrder]).toEqual([120, 20, 7, 3, 5])
    expect([...anyOrder]).toEqual([130, 20, 7, 3, 5])
    expect([...others]).toEqual([3, 0, 0, 0, 0])
  })

  test('a keyword without searches of its own has those of phrases that hold it', () => {
    const { exact, inOrder, anyOrder } = body([
      ['raku kiln', null],
      ['small raku kiln', 30],
      ['kiln for raku', 4],
    ])
    expect([inOrder[0], anyOrder[0]]).toEqual([30, 34])
    expect([...exact]).toEqual([Number.NaN, 30, 4])
  })

  test('forms that share one figure are counted once, and an order that they hide is not told', () => {
    const { exact, inOrder, anyOrder } = body([
      ['pottery wheel', 100, 1],
      ['wheel pottery', 100, 1],
      ['cheap pottery wheel', 10, 2],
      ['cheap pottery wheels', 10, 2],
    ])
    // A hundred people typed one or the other; which, the figure does not say.
    expect([...inOrder.subarray(0, 2)]).toEqual([Number.NaN, Number.NaN])
    expect([...anyOrder]).toEqual([110, 110, 10, 10])
    expect([...exact]).toEqual([Number.NaN, Number.NaN, Number.NaN, Number.NaN])
  })

  test('a word said twice, and the same words as another keyword, count once', () => {
    const { inOrder, anyOrder } = body([
      ['clay', 50],
      ['clay on clay', 6],
    ])
    expect([...inOrder]).toEqual([56, 6])
    expect([...anyOrder]).toEqual([56, 6])
  })

  test('a phrase of many words lends its searches to its runs', () => {
    const long = 'how to throw a large bowl on a small electric wheel at home'
    const { inOrder, anyOrder } = body([
      [long, 8],
      ['large bowl', 1],
      ['bowl large', 1],
      ['throw home', 1],
    ])
    expect([...inOrder]).toEqual([8, 9, 1, 1])
    expect([...anyOrder]).toEqual([8, 10, 10, 1])
  })

  test('agrees with looking at every pair, on made-up phrases', () => {
    let state = 7
    const draw = (n: number): number => (state = (state * 48_271) % 2_147_483_647) % n
    const phrases = [
      ...new Set(
        Array.from({ length: 300 }, () => Array.from({ length: 1 + draw(4) }, () => 'abcdef'[draw(6)]).join(' ')),
      ),
    ]
    const rows = phrases.map((phrase, i): [string, number, number] => [phrase, 1 + draw(50), i])
    const { inOrder, anyOrder } = body(rows)
    for (const [i, phrase] of phrases.entries()) {
      const words = phrase.split(' ')
      let [together, anywhere] = [0, 0]
      for (const [other, searches] of rows) {
        if (` ${other} `.includes(` ${phrase} `)) together += searches
        if (words.every(word => other.split(' ').includes(word))) anywhere += searches
      }
      expect([inOrder[i], anyOrder[i]]).toEqual([together, anywhere])
    }
  })
})
