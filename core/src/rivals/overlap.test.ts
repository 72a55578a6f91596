import { expect, test } from 'vitest'
import { eachTogether } from './overlap.ts'

const together = (...lists: number[][]) => {
  const seen: number[][] = []
  eachTogether(
    lists.map(list => Int32Array.from(list)),
    positions => seen.push([...positions]),
  )
  return seen
}

test('each keyword is seen once, with its place in every list', () => {
  expect(together([-9, 1, 4], [1, 5], [])).toEqual([
    [0, -1, -1],
    [1, 0, -1],
    [2, -1, -1],
    [-1, 1, -1],
  ])
  expect(together()).toEqual([])
  expect(together([], [])).toEqual([])
})

test('the same as sets of random lists', () => {
  const lists = [3, 5, 7].map(step => Array.from({ length: 200 }, (_, i) => i * step - 100))
  const seen = together(...lists)
  expect(seen).toHaveLength(new Set(lists.flat()).size)
  for (const [l, list] of lists.entries()) {
    const found = seen.map(positions => positions[l]!).filter(position => position >= 0)
    expect(found).toEqual(list.map((_, i) => i))
  }
})
