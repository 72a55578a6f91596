import { expect, test } from 'vitest'
import { GrowingInts } from './growing-ints.ts'
import { PairCodes } from './pair-codes.ts'

test('different pairs get the next code, equal ones the same, as a map of texts says', () => {
  const pairs = new PairCodes()
  const slowly = new Map<string, number>()
  let seed = 11
  const next = (below: number): number => {
    seed = (seed * 48_271) % 2_147_483_647
    return seed % below
  }
  for (let i = 0; i < 120_000; i++) {
    const [first, second] = [next(600), next(400) - 200]
    const key = `${first} ${second}`
    if (!slowly.has(key)) slowly.set(key, slowly.size)
    const code = pairs.at(first, second)
    if (code !== slowly.get(key)) expect(code).toBe(slowly.get(key))
  }
  expect(pairs.count).toBe(slowly.size)
  for (const [key, code] of slowly)
    if (`${pairs.first(code)} ${pairs.second(code)}` !== key)
      expect(`${pairs.first(code)} ${pairs.second(code)}`).toBe(key)
})

test('the order of a pair counts, and ends of the range are numbers like others', () => {
  const pairs = new PairCodes()
  const ends: Array<[number, number]> = [
    [0, 0],
    [1, 2],
    [2, 1],
    [2 ** 31 - 1, -(2 ** 31)],
    [-(2 ** 31), 2 ** 31 - 1],
  ]
  expect(ends.map(pair => pairs.at(...pair))).toEqual([0, 1, 2, 3, 4])
  expect(ends.map(pair => pairs.at(...pair))).toEqual([0, 1, 2, 3, 4])
})

test('integers are kept while their array grows, can be changed, and a cleared list begins anew', () => {
  const list = new GrowingInts(2)
  for (let i = 0; i < 1_000; i++) list.push(i * i)
  list.set(3, -7)
  expect([list.count, list.get(3), list.get(999)]).toEqual([1_000, -7, 998_001])
  expect(list.view()).toHaveLength(1_000)
  list.clear()
  list.push(5)
  expect([...list.view()]).toEqual([5])
})
