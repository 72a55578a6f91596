import { describe, expect, test } from 'vitest'
import { rareWordShares } from './rare-words.ts'

const titled = (...titles: string[]) => titles.map(title => ({ title }))
const shares = (keyword: string, ...titles: string[]) => rareWordShares(keyword, titled(...titles), 'en')

describe('words that others lack', () => {
  const wheels = Array.from({ length: 6 }, () => 'Pottery wheel')
  test('words that most titles have only name the subject; the others tell who serves the need', () => {
    expect(shares('used pottery wheel', ...wheels, 'Used pottery wheels', 'Used kilns')).toEqual([
      ...wheels.map(() => 0),
      100,
      100,
    ])
    expect(shares('used folding pottery wheel', ...wheels, 'Used pottery wheel')[6]).toBe(50)
  })
  test('where others have all words nothing is told', () => {
    expect(shares('pottery wheel', ...wheels, 'Kilns')).toEqual(new Array(7).fill(null))
  })
  test('a result does not make its own words common, and forms of a word are one', () => {
    // Two of three others have the word, of the fourth all three do.
    expect(shares('kilns', 'Kiln', 'Kilns for sale', 'The kiln', 'Clay')).toEqual([null, null, null, null])
    expect(shares('kilns', 'Kiln', 'Clay')).toEqual([100, null])
    expect(shares('used kilns', 'Used kiln')).toEqual([100])
  })
  test('only the first twenty tell, and no results are no error', () => {
    const many = [...Array.from({ length: 20 }, () => 'Clay'), ...Array.from({ length: 40 }, () => 'Kiln')]
    const told = shares('kiln', ...many)
    expect(told[0]).toBe(0)
    expect(told[59]).toBe(100)
    expect(shares('kiln')).toEqual([])
  })
})
