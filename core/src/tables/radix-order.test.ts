import { expect, test } from 'vitest'
import { NumberIds } from './number-ids.ts'
import { radixOrder } from './radix-order.ts'

/** Made-up numbers, the same at every run. */
function numbers(seed: number, count: number, one: (random: number) => number): Float64Array {
  let state = seed
  return Float64Array.from({ length: count }, () => {
    state = (state * 16_807) % 2_147_483_647
    return one(state)
  })
}
const kinds: Array<[string, (random: number) => number]> = [
  ['small whole numbers', random => random % 50],
  ['fractions below and above zero', random => (random - 1e9) / 7],
  ['large and tiny', random => (random % 2 ? 1 : -1) * 10 ** ((random % 600) - 300)],
  ['one value', () => 3],
  ['the ends', random => [Number.MAX_VALUE, -Number.MAX_VALUE, Infinity, -Infinity, 0][random % 5]!],
]

test.each(kinds)('orders %s as a comparing sort does, ties in the order they came', (_, one) => {
  for (const count of [0, 1, 2, 1_000]) {
    const keys = numbers(5 + count, count, one)
    const order = Uint32Array.from(keys.keys()).reverse()
    const before = [...order]
    const expected = [...order].sort((a, b) => (keys[a]! < keys[b]! ? -1 : keys[a]! > keys[b]! ? 1 : b - a))
    expect([...radixOrder(order, keys)]).toEqual(expected)
    expect([...order]).toEqual(before)
  }
})

test('numbers get small ids in order of arrival and keep them while the table grows', () => {
  const ids = new NumberIds()
  const seen = new Map<number, number>()
  for (const value of numbers(11, 20_000, random => (random % 9_000) * 1_048_576 + (random % 3) / 4)) {
    if (!seen.has(value)) seen.set(value, seen.size)
    expect(ids.add(value)).toBe(seen.get(value))
  }
  expect(ids.count).toBe(seen.size)
  for (const [value, id] of seen) expect(ids.find(value)).toBe(id)
  expect(ids.find(-1)).toBe(-1)
})
