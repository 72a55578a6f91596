import { decodeDay, positionAt } from '@dew-trail/core/positions/day-vector'
import type { Db } from '../../platform/db/pool.ts'
import { shiftDay } from './day-reader.ts'
import { manyDays } from './day-queries.ts'

/** Positions of keywords over consecutive days: by slot a day-vector value a day. */
export type PositionSeries = { days: string[]; of: Map<number, Int16Array> }

/** The index of a day of a series that begins with `from`. */
export const dayAt = (from: string, day: string): number =>
  Math.round((Date.parse(day) - Date.parse(from)) / 86_400_000)

/** Day-vector values of slots in a market from one day to another, both included; days without a check are 0. */
export async function positionSeries(
  db: Db,
  siteId: number,
  marketId: number,
  slots: Iterable<number>,
  from: string,
  to: string,
): Promise<PositionSeries> {
  const length = Math.max(0, dayAt(from, to) + 1)
  const of = new Map([...slots].map(slot => [slot, new Int16Array(length)]))
  for (const row of await manyDays(db, siteId, marketId, from, to)) {
    const vector = decodeDay(row.positions)
    const at = dayAt(from, row.day)
    for (const [slot, days] of of) days[at] = positionAt(vector, slot)
  }
  return { days: Array.from({ length }, (_, i) => shiftDay(from, i)), of }
}
