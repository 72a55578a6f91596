import { clickShare, type Device } from '../demand/click-curve.ts'
import type { DayVector } from './day-vector.ts'

/**
 * Visibility 0–100 of a day: Σ searches·ctr(place) / Σ searches·ctr(1) over keywords that were checked and whose searches are
 * known; 100 would be first place everywhere. Not found counts as no clicks. `null` when nothing qualifies. `searches[slot]`
 * is NaN where unknown. O(slots).
 */
export function visibility(day: DayVector, searches: Float64Array, device: Device): number | null {
  let reached = 0
  let possible = 0
  const first = clickShare(1, device)
  for (let slot = 0; slot < day.length && slot < searches.length; slot++) {
    const position = day[slot]!
    const volume = searches[slot]!
    if (position === 0 || Number.isNaN(volume)) continue
    possible += volume * first
    if (position > 0) reached += volume * clickShare(position, device)
  }
  return possible > 0 ? (100 * reached) / possible : null
}
