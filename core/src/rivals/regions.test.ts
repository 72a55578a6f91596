import { describe, expect, test } from 'vitest'
import { masksOf, questionKinds } from './regions.ts'

describe('regions of an own site and three rivals', () => {
  test.each([
    ['allRivals', [0b1110]],
    ['twoRivals', [0b0110, 0b1010, 0b1100, 0b1110]],
    ['oneRival', [0b0010, 0b0100, 0b1000]],
    ['ownAlone', [0b0001]],
    ['shared', [0b0011, 0b0101, 0b0111, 0b1001, 0b1011, 0b1101, 0b1111]],
  ] as const)('%s', (question, masks) => expect(masksOf(question, 4)).toEqual([...masks]))
  test('every region answers one of: all rivals, fewer rivals, own alone, shared', () => {
    const seen = [
      ...masksOf('twoRivals', 4),
      ...masksOf('oneRival', 4),
      ...masksOf('ownAlone', 4),
      ...masksOf('shared', 4),
    ]
    expect(seen.toSorted((a, b) => a - b)).toEqual(Array.from({ length: 15 }, (_, i) => i + 1))
  })
  test('ten sites have regions for every question', () => {
    for (const question of questionKinds) expect(masksOf(question, 10).length).toBeGreaterThan(0)
    expect(masksOf('twoRivals', 10)).toHaveLength(2 ** 9 - 1 - 9)
  })
})
