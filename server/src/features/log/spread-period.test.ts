import { describe, expect, test } from 'vitest'
import { partOf, weekParts } from './spread-period.ts'

describe('a period without days', () => {
  test('falls into weeks from Monday on, by days', () => {
    // Thursday to Tuesday: four days of one week, two of the next.
    const parts = weekParts({ from: '2026-10-01', to: '2026-10-06' })
    expect(parts.map(({ week }) => week)).toEqual(['2026-09-28', '2026-10-05'])
    expect(parts[0]!.to).toBeCloseTo(4 / 6)
    expect(weekParts({ from: '2026-10-05', to: '2026-10-05' })).toEqual([{ week: '2026-10-05', from: 0, to: 1 }])
  })
  test('its counts are whole and add up', () => {
    const parts = weekParts({ from: '2026-08-12', to: '2026-11-09' })
    expect(parts).toHaveLength(14)
    for (const count of [0, 1, 7, 100, 12_345])
      expect(parts.reduce((sum, part) => sum + partOf(count, part), 0)).toBe(count)
  })
})
