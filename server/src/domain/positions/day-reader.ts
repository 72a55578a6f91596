import { type DayVector, decodeDay, notChecked, positionAt } from '@dew-trail/core/positions/day-vector'
import type { Db } from '../../platform/db/pool.ts'
import { slotsEverChecked } from './fold-years.ts'
import { manyDaysBefore } from './day-queries.ts'

/** How far back a position is looked for: older ones are no longer known. */
const longestDays = 400
const msADay = 86_400_000
/** How many days are read at a time: the last one mostly has all keywords. */
const batches = [1, 6, 30, 120, longestDays]

export type Known = { position: number; day: string }

export const shiftDay = (day: string, days: number): string =>
  new Date(Date.parse(day) + days * msADay).toISOString().slice(0, 10)

/**
 * Positions of a market by day, read as they are asked for and each day once. A day on which few keywords were checked says nothing of
 * the others, so each one's last known position at a day is read.
 */
export class DayReader {
  readonly #db: Db
  readonly #siteId: number
  readonly #marketId: number
  /** Days from the newest that was asked for down to the oldest read, newest first. */
  readonly #days: Array<{ day: string; vector: DayVector }> = []
  #ended = false

  constructor(db: Db, siteId: number, marketId: number) {
    this.#db = db
    this.#siteId = siteId
    this.#marketId = marketId
  }

  /** The vector of exactly a day that was read already, null where nothing was checked on it. */
  vectorOf(day: string): DayVector | null {
    return this.#days.find(each => each.day === day)?.vector ?? null
  }

  /** The newest day, undefined when nothing was ever checked. */
  async newestDay(): Promise<string | undefined> {
    if (!this.#days.length) await this.#read(1)
    return this.#days[0]?.day
  }

  /** Reads all days from a day on. */
  async readFrom(day: string): Promise<void> {
    while (!this.#ended && (this.#days.at(-1)?.day ?? '9999') > day) await this.#read(30)
  }

  /** The last known value of each slot at or before a day, not older than 400 days; slots without one are left out. */
  async lastKnown(slots: Iterable<number>, at: string): Promise<Map<number, Known>> {
    const found = new Map<number, Known>()
    let open = [...slots]
    const oldest = shiftDay(at, -longestDays)
    let next = 0
    let batch = 0
    while (open.length) {
      if (next === this.#days.length) {
        if (this.#ended || (this.#days.at(-1)?.day ?? at) < oldest) break
        // Those that were never checked would have every day read.
        if (batch === 2) {
          const ever = await slotsEverChecked(this.#db, this.#siteId, this.#marketId, open)
          open = open.filter(slot => ever.has(slot))
          if (!open.length) break
        }
        await this.#read(batches[Math.min(batch++, batches.length - 1)]!)
        continue
      }
      const { day, vector } = this.#days[next++]!
      if (day > at) continue
      if (day < oldest) break
      open = open.filter(slot => {
        const position = positionAt(vector, slot)
        if (position === notChecked) return true
        found.set(slot, { position, day })
        return false
      })
    }
    return found
  }

  async #read(count: number): Promise<void> {
    const before = this.#days.at(-1)?.day ?? null
    const rows = await manyDaysBefore(this.#db, this.#siteId, this.#marketId, before, count)
    if (rows.length < count) this.#ended = true
    for (const row of rows) this.#days.push({ day: row.day, vector: decodeDay(row.positions) })
  }
}
