import type { DayVector } from './day-vector.ts'

export type Spread = { top3: number; top10: number; top30: number; beyond: number; notFound: number }

/** How many of a day's keywords stand within 3, at 4–10, at 11–30, beyond 30, and not within the checked depth. Unchecked ones are in none. */
export function positionSpread(day: DayVector): Spread {
  const spread: Spread = { top3: 0, top10: 0, top30: 0, beyond: 0, notFound: 0 }
  for (const position of day) {
    if (position < 0) spread.notFound++
    else if (position > 30) spread.beyond++
    else if (position > 10) spread.top30++
    else if (position > 3) spread.top10++
    else if (position > 0) spread.top3++
  }
  return spread
}
