/** When work comes round: every day, on a weekday (1 = Monday … 7 = Sunday), or on a day of the month, at an hour of a time zone. */
export type Rhythm =
  | { every: 'day'; hour: number }
  | { every: 'week'; hour: number; weekday: number }
  | { every: 'month'; hour: number; dayOfMonth: number }

/**
 * The first moment after `after` at which the rhythm comes round in an IANA time zone. An hour that summer time leaves out counts as the
 * first moment after the gap; one that comes twice counts once, the first time. A day that a month does not have is its last day. Throws a
 * RangeError for an unknown time zone and for numbers out of range.
 */
export function nextRun(rhythm: Rhythm, timeZone: string, after: Date): Date {
  checkRhythm(rhythm)
  const clock = clockOf(timeZone)
  const today = clock(after.getTime())
  // The longest wait is a month; a day more for the zone's own midnight.
  for (let ahead = 0; ahead <= 32; ahead++) {
    const noon = new Date(Date.UTC(today.year, today.month - 1, today.day + ahead, 12))
    if (!comesRound(rhythm, noon)) continue
    const at = momentOf(clock, noon.getUTCFullYear(), noon.getUTCMonth() + 1, noon.getUTCDate(), rhythm.hour)
    if (at > after.getTime()) return new Date(at)
  }
  throw new RangeError('the rhythm never comes round')
}

/** Whether a text names a time zone that is known here. */
export function isTimeZone(timeZone: string): boolean {
  try {
    clockOf(timeZone)
    return true
  } catch {
    return false
  }
}

function checkRhythm(rhythm: Rhythm): void {
  const whole = (value: number, from: number, to: number, what: string): void => {
    if (!Number.isInteger(value) || value < from || value > to)
      throw new RangeError(`${what} must be ${from} to ${to}, not ${value}`)
  }
  whole(rhythm.hour, 0, 23, 'the hour')
  if (rhythm.every === 'week') whole(rhythm.weekday, 1, 7, 'the weekday')
  if (rhythm.every === 'month') whole(rhythm.dayOfMonth, 1, 31, 'the day of the month')
}

function comesRound(rhythm: Rhythm, noon: Date): boolean {
  if (rhythm.every === 'day') return true
  if (rhythm.every === 'week') return (noon.getUTCDay() || 7) === rhythm.weekday
  const last = new Date(Date.UTC(noon.getUTCFullYear(), noon.getUTCMonth() + 1, 0)).getUTCDate()
  return noon.getUTCDate() === Math.min(rhythm.dayOfMonth, last)
}

type Wall = { year: number; month: number; day: number; hour: number; minute: number }
type Clock = (ms: number) => Wall

/** What the clocks of a zone show at a moment. */
function clockOf(timeZone: string): Clock {
  const format = new Intl.DateTimeFormat('en-u-ca-gregory-hc-h23', {
    timeZone,
    year: 'numeric',
    month: 'numeric',
    day: 'numeric',
    hour: 'numeric',
    minute: 'numeric',
  })
  return ms => {
    const shown = Object.fromEntries(format.formatToParts(ms).map(({ type, value }) => [type, Number(value)]))
    return {
      year: shown.year!,
      month: shown.month!,
      day: shown.day!,
      hour: shown.hour! % 24,
      minute: shown.minute!,
    }
  }
}

const anHour = 3_600_000
const aQuarter = anHour / 4
/** The first moment of a day at which the clocks show the hour or, where they leave it out, a later one. */
function momentOf(clock: Clock, year: number, month: number, day: number, hour: number): number {
  const wanted = Date.UTC(year, month - 1, day, hour)
  // Zones lie within 14 hours of UTC, and begin at quarters of an hour.
  for (let ms = wanted - 15 * anHour; ms <= wanted + 15 * anHour; ms += aQuarter) {
    const shown = clock(ms)
    if (Date.UTC(shown.year, shown.month - 1, shown.day, shown.hour, shown.minute) >= wanted) return ms
  }
  throw new RangeError('no moment shows the hour')
}
