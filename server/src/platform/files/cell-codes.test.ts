import { expect, test } from 'vitest'
import { CellCodes } from './cell-codes.ts'

test('different contents get the next code, equal ones the same, as a map of texts says', () => {
  const codes = new CellCodes()
  const slowly = new Map<string, number>()
  let seed = 7
  const next = (below: number): number => {
    seed = (seed * 48_271) % 2_147_483_647
    return seed % below
  }
  for (let i = 0; i < 20_000; i++) {
    const text = next(9) ? `https://linking-${next(3_000)}.example/ä/${next(3)}` : 'x'.repeat(next(40))
    if (!slowly.has(text)) slowly.set(text, slowly.size)
    const line = Buffer.from(`,${text},`)
    expect(codes.at(line, 1, line.length - 1)).toBe(slowly.get(text))
  }
  expect(codes.count).toBe(slowly.size)
})

test('an empty cell is a content, one longer than all before has room, and a cleared table begins anew', () => {
  const codes = new CellCodes()
  const long = Buffer.alloc(100_000, 'a')
  expect(codes.at(long, 5, 5)).toBe(0)
  expect(codes.at(long, 0, long.length)).toBe(1)
  expect(codes.at(long, 0, long.length - 1)).toBe(2)
  expect(codes.at(long, 9, 9)).toBe(0)
  codes.clear()
  expect(codes.at(long, 0, 3)).toBe(0)
  expect(codes.at(long, 0, 0)).toBe(1)
})
