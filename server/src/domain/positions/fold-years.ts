import { type DayVector, decodeDay, encodeDay, notChecked, positionAt } from '@dew-trail/core/positions/day-vector'
import type pg from 'pg'
import { type Db, inTransaction } from '../../platform/db/pool.ts'
import { lockSite } from '../sites/queries.ts'
import { manyDays } from './day-queries.ts'
import {
  manyMarketsToFold,
  manyOpenDays,
  manySlotsWithYears,
  manyYearsOf,
  setFoldedUntil,
  upsertYears,
} from './year-queries.ts'

const msADay = 86_400_000
/** The place of a day in its year, from 0. */
export const dayIndex = (day: string): number =>
  Math.floor((Date.parse(day) - Date.parse(`${day.slice(0, 4)}-01-01`)) / msADay)
const yearOf = (day: string): number => Number(day.slice(0, 4))

/** A day is folded in at once where so many wait, as after an import; else the night does it for a week of them. */
const mostOpenDays = 62
const daysANight = 8
const [slotsAtATime, daysAtATime] = [2_000, 31]

export type KnownDay = { day: string; vector: DayVector }

/**
 * Puts days into the years of keywords, of all or of some slots. To write a day into the year of every keyword costs twenty times as much as
 * the day itself, so new days wait until there are several.
 */
export async function foldDays(
  db: Db,
  siteId: number,
  marketId: number,
  days: readonly KnownDay[],
  slots?: readonly number[],
): Promise<void> {
  for (const year of new Set(days.map(each => yearOf(each.day)))) {
    const ofYear = days
      .filter(each => yearOf(each.day) === year)
      .map(({ day, vector }) => ({ index: dayIndex(day), vector }))
    const longest = ofYear.reduce((most, { vector }) => Math.max(most, vector.length), 0)
    const all = slots ?? Array.from({ length: longest }, (_, slot) => slot)
    for (let from = 0; from < all.length; from += slotsAtATime) {
      const some = all.slice(from, from + slotsAtATime)
      const before = new Map(
        (await manyYearsOf(db, siteId, marketId, some, [year])).map(row => [row.slot, decodeDay(row.positions)]),
      )
      const rows: Array<{ marketId: number; slot: number; year: number; positions: Uint8Array }> = []
      for (const slot of some) {
        const known = before.get(slot)
        if (!known && ofYear.every(({ vector }) => positionAt(vector, slot) === notChecked)) continue
        const positions = known ?? new Int16Array(366)
        for (const { index, vector } of ofYear) positions[index] = positionAt(vector, slot)
        rows.push({ marketId, slot, year, positions: encodeDay(positions) })
      }
      if (rows.length) await upsertYears(db, siteId, rows)
    }
  }
}

/** Folds the days of a market that wait, all but the newest, which is still being checked. The caller holds the site's lock. */
async function foldOpenDays(db: Db, siteId: number, marketId: number, open: readonly string[]): Promise<void> {
  const closed = open.slice(0, -1)
  for (let from = 0; from < closed.length; from += daysAtATime) {
    const [first, last] = [closed[from]!, closed[Math.min(from + daysAtATime, closed.length) - 1]!]
    const days = await manyDays(db, siteId, marketId, first, last)
    await foldDays(
      db,
      siteId,
      marketId,
      days.map(row => ({ day: row.day, vector: decodeDay(row.positions) })),
    )
  }
  if (closed.length) await setFoldedUntil(db, siteId, marketId, closed.at(-1)!)
}

/** Folds a market's days at once where more wait than one keyword's history should read. The caller holds the site's lock. */
export async function foldIfMany(db: Db, siteId: number, marketId: number): Promise<void> {
  const open = await manyOpenDays(db, siteId, marketId)
  if (open.length > mostOpenDays) await foldOpenDays(db, siteId, marketId, open)
}

/** Folds the days of all markets where a week of them waits, a market at a time. */
export async function foldNightly(pool: pg.Pool): Promise<void> {
  for (const { siteId, marketId } of await manyMarketsToFold(pool, daysANight))
    await inTransaction(pool, async db => {
      await lockSite(db, siteId)
      await foldOpenDays(db, siteId, marketId, await manyOpenDays(db, siteId, marketId))
    })
}

/** Those of some slots of which anything was ever found out in a market. */
export async function slotsEverChecked(
  db: Db,
  siteId: number,
  marketId: number,
  slots: readonly number[],
): Promise<Set<number>> {
  const checked = new Set(await manySlotsWithYears(db, siteId, marketId, slots))
  const open = await manyOpenDays(db, siteId, marketId)
  if (!open.length) return checked
  for (const row of await manyDays(db, siteId, marketId, open[0]!, open.at(-1)!)) {
    const vector = decodeDay(row.positions)
    for (const slot of slots) if (positionAt(vector, slot) !== notChecked) checked.add(slot)
  }
  return checked
}
