import type { Rhythm } from '@dew-trail/contract/schedules'

export const weekdays = ['Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday', 'Sunday']
const hourText = (hour: number): string => `${String(hour).padStart(2, '0')}:00`

/** A rhythm in words: "every day at 06:00", "every Monday at 06:00", "on day 31 of the month at 06:00". */
export function rhythmText(rhythm: Rhythm): string {
  const at = `at ${hourText(rhythm.hour)}`
  if (rhythm.every === 'day') return `every day ${at}`
  if (rhythm.every === 'week') return `every ${weekdays[rhythm.weekday - 1]} ${at}`
  return `on day ${rhythm.dayOfMonth} of the month ${at}`
}

export type Every = Rhythm['every'] | 'never'
/** The rhythm of another kind that keeps what can be kept of one. */
export function changeEvery(before: Rhythm | null, every: Every): Rhythm | null {
  const hour = before?.hour ?? 5
  if (every === 'never') return null
  if (every === 'day') return { every, hour }
  if (every === 'week') return { every, hour, weekday: before?.every === 'week' ? before.weekday : 1 }
  return { every, hour, dayOfMonth: before?.every === 'month' ? before.dayOfMonth : 1 }
}

/** A moment as weekday, day and hour of a time zone: "Mon, Nov 30, 06:00". */
export const momentText = (moment: string, timeZone: string): string =>
  new Date(moment).toLocaleString('en', {
    timeZone,
    weekday: 'short',
    day: 'numeric',
    month: 'short',
    hour: '2-digit',
    minute: '2-digit',
    hourCycle: 'h23',
  })
