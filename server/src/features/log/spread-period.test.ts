import { describe, expect, test } from 'vitest'
import { spread, weekParts } from './spread-period.ts'

describe('a period without days', () => {
  test('falls into weeks from Monday on, by days', () => {
    // Thursday to Tuesday: four days of one week, two of the next.
    const parts = weekParts({ from: '2026-10-01', to: '2026-10-06' })
    expect(parts.map(({ week }) => week)).toEqual(['2026-09-28', '2026-10-05'])
    expect(parts[0]!.to).toBeCloseTo(4 / 6)
    expect(weekParts({ from: '2026-10-05', to: '2026-10-05' })).toEqual([{ week: '2026-10-05', from: 0, to: 1 }])
  })
  test('its counts are whole and add up, and no week has more clicks than impressions', () => {
    const parts = weekParts({ from: '2026-08-12', to: '2026-11-09' })
    expect(parts).toHaveLength(14)
    for (const impressions of [1, 2, 3, 7, 13, 100, 12_345])
      for (const clicks of new Set([0, 1, 2, Math.floor(impressions / 3), impressions - 1, impressions])) {
        if (clicks > impressions) continue
        const weeks = spread({ impressions, clicks }, parts)
        expect(weeks.reduce((sum, week) => sum + week.impressions, 0)).toBe(impressions)
        expect(weeks.reduce((sum, week) => sum + week.clicks, 0)).toBe(clicks)
        for (const week of weeks) expect(week.clicks).toBeLessThanOrEqual(week.impressions)
      }
    expect(spread({ impressions: 0, clicks: 0 }, parts)).toEqual([])
  })
})
