import type { DayVector } from './day-vector.ts'

export type Spread = { top3: number; top10: number; top30: number; beyond: number; notFound: number }

/** How many of a day's keywords stand within 3, at 4–10, at 11–30, beyond 30, and not within the checked depth. Unchecked ones are in none. */
export function positionSpread(day: DayVector): Spread {
  const spread: Spread = { top3: 0, top10: 0, top30: 0, beyond: 0, notFound: 0 }
  // By number: going through a typed array by its values takes three times as long, and this is done for years of days.
  for (let slot = 0; slot < day.length; slot++) {
    const position = day[slot]!
    if (position < 0) spread.notFound++
    else if (position > 30) spread.beyond++
    else if (position > 10) spread.top30++
    else if (position > 3) spread.top10++
    else if (position > 0) spread.top3++
  }
  return spread
}
