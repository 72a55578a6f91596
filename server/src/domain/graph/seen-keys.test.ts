import { expect, test } from 'vitest'
import { SeenKeys } from './seen-keys.ts'

test('a combination is new once, whatever came between', () => {
  const seen = new SeenKeys()
  const many = 200_000
  let fresh = 0
  for (let i = 0; i < many; i++) if (seen.isNew(i % 700, (i / 700) | 0, 3, 0)) fresh++
  expect(fresh).toBe(many)
  let again = 0
  for (let i = 0; i < many; i++) if (seen.isNew(i % 700, (i / 700) | 0, 3, 0)) again++
  expect(again).toBe(0)
})

test('the order of the numbers and each of them count', () => {
  const seen = new SeenKeys()
  const keys: Parameters<SeenKeys['isNew']>[] = [
    [1, 2, 3, 0],
    [2, 1, 3, 0],
    [1, 2, 3, 1],
    [1, 2, 4, 0],
    [0, 0, 0, 0],
  ]
  for (const key of keys) expect(seen.isNew(...key)).toBe(true)
  expect(seen.isNew(2, 1, 3, 0)).toBe(false)
  seen.clear()
  expect(seen.isNew(2, 1, 3, 0)).toBe(true)
})
