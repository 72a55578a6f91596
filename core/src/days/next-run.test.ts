import { describe, expect, test } from 'vitest'
import { isTimeZone, nextRun, type Rhythm } from './next-run.ts'

const next = (rhythm: Rhythm, zone: string, after: string): string =>
  nextRun(rhythm, zone, new Date(after)).toISOString()
const daily = (hour: number): Rhythm => ({ every: 'day', hour })

describe('the next run', () => {
  test('is the first moment after now at the hour of the zone', () => {
    expect(next(daily(6), 'UTC', '2026-11-20T05:59:59Z')).toBe('2026-11-20T06:00:00.000Z')
    expect(next(daily(6), 'UTC', '2026-11-20T06:00:00Z')).toBe('2026-11-21T06:00:00.000Z')
    expect(next(daily(6), 'Europe/Berlin', '2026-11-20T05:30:00Z')).toBe('2026-11-21T05:00:00.000Z')
    expect(next(daily(0), 'Pacific/Auckland', '2026-11-20T10:00:00Z')).toBe('2026-11-20T11:00:00.000Z')
    expect(next(daily(7), 'Asia/Kathmandu', '2026-11-20T00:00:00Z')).toBe('2026-11-20T01:15:00.000Z')
    expect(next(daily(23), 'Pacific/Honolulu', '2026-11-20T08:30:00Z')).toBe('2026-11-20T09:00:00.000Z')
  })
  test('an hour that summer time leaves out runs after the gap, one that comes twice runs once', () => {
    // Clocks go from 2 to 3 on 29 March 2026 and from 3 back to 2 on 25 October.
    expect(next(daily(2), 'Europe/Berlin', '2026-03-28T12:00:00Z')).toBe('2026-03-29T01:00:00.000Z')
    expect(next(daily(3), 'Europe/Berlin', '2026-03-28T12:00:00Z')).toBe('2026-03-29T01:00:00.000Z')
    expect(next(daily(2), 'Europe/Berlin', '2026-10-24T12:00:00Z')).toBe('2026-10-25T00:00:00.000Z')
    expect(next(daily(2), 'Europe/Berlin', '2026-10-25T00:00:00Z')).toBe('2026-10-26T01:00:00.000Z')
  })
  test('weeks begin on Monday, and a day that a month lacks is its last', () => {
    expect(next({ every: 'week', hour: 4, weekday: 1 }, 'UTC', '2026-11-20T00:00:00Z')).toBe('2026-11-23T04:00:00.000Z')
    expect(next({ every: 'week', hour: 4, weekday: 7 }, 'UTC', '2026-11-22T04:00:00Z')).toBe('2026-11-29T04:00:00.000Z')
    const last: Rhythm = { every: 'month', hour: 4, dayOfMonth: 31 }
    expect(next(last, 'UTC', '2026-11-01T00:00:00Z')).toBe('2026-11-30T04:00:00.000Z')
    expect(next(last, 'UTC', '2027-01-31T04:00:00Z')).toBe('2027-02-28T04:00:00.000Z')
    expect(next({ every: 'month', hour: 0, dayOfMonth: 1 }, 'UTC', '2026-12-01T00:00:00Z')).toBe(
      '2027-01-01T00:00:00.000Z',
    )
  })
  test('what is no rhythm and no zone is refused', () => {
    expect(() => nextRun(daily(24), 'UTC', new Date(0))).toThrow('the hour must be 0 to 23, not 24')
    expect(() => nextRun({ every: 'week', hour: 1, weekday: 0 }, 'UTC', new Date(0))).toThrow('weekday')
    expect(() => nextRun({ every: 'month', hour: 1, dayOfMonth: 32 }, 'UTC', new Date(0))).toThrow('day of the month')
    expect(() => nextRun(daily(1), 'Nowhere/Land', new Date(0))).toThrow(RangeError)
    expect([isTimeZone('UTC'), isTimeZone('Europe/Berlin'), isTimeZone('Nowhere/Land')]).toEqual([true, true, false])
  })
})
