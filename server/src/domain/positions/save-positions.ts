import type { Market } from '@dew-trail/contract/sites'
import { decodeDay, encodeDay, mergeDay } from '@dew-trail/core/positions/day-vector'
import { positionSpread } from '@dew-trail/core/positions/spread'
import { visibility } from '@dew-trail/core/positions/visibility'
import type { Context } from '../../context.ts'
import { type Db, inTransaction } from '../../platform/db/pool.ts'
import { needSite } from '../sites/need-market.ts'
import { lockSite, touchTracked } from '../sites/queries.ts'
import {
  type FeatureRow,
  manyDays,
  manyFeaturesOn,
  manyPagesOn,
  manySearchesBySlot,
  manyYearsOf,
  maybeLastDay,
  upsertDay,
  upsertFeaturesFound,
  upsertPagesFound,
  upsertVisibility,
  upsertYears,
  type VisibilityRow,
} from './queries.ts'

/** What was found on one day in one market: by slot, a day-vector value, the page, and what else the result page held. */
export type DayFindings = {
  day: string
  positions: Map<number, number>
  pages: Map<number, string | null>
  features?: Map<number, { shown: number; held: number }>
}

const msADay = 86_400_000
export const dayIndex = (day: string): number =>
  Math.floor((Date.parse(day) - Date.parse(`${day.slice(0, 4)}-01-01`)) / msADay)

/**
 * Writes findings of a market into the record: day vectors, then what derives from them (year blobs of the touched slots, visibility
 * of the touched days, changes of the page found). Call in a transaction under the site's lock. Days may come in any order.
 */
export async function savePositions(db: Db, siteId: number, market: Market, findings: DayFindings[]): Promise<void> {
  if (!findings.length) return
  const days = [...findings].sort((a, b) => (a.day < b.day ? -1 : 1))
  const known = new Map(
    (await manyDays(db, siteId, market.id, days[0]!.day, days.at(-1)!.day)).map(row => [
      row.day,
      decodeDay(row.positions),
    ]),
  )
  // What was not looked up on a new day is not known of it any more.
  const last = await maybeLastDay(db, siteId, market.id)
  if (!last || days.at(-1)!.day > last.day) await touchTracked(db, siteId)
  const searches = await searchesBySlot(db, siteId, market.place)
  const rollup: VisibilityRow[] = []
  const years = new Map<string, { slot: number; year: number; values: Map<number, number> }>()
  for (const { day, positions } of days) {
    const vector = mergeDay(known.get(day) ?? null, positions)
    known.set(day, vector)
    await upsertDay(db, siteId, market.id, day, encodeDay(vector))
    const spread = positionSpread(vector)
    rollup.push({ day, visibility: visibility(vector, searches, market.device), ...spread })
    const year = Number(day.slice(0, 4))
    for (const [slot, position] of positions) {
      const key = `${slot}:${year}`
      const entry = years.get(key) ?? { slot, year, values: new Map<number, number>() }
      entry.values.set(dayIndex(day), position)
      years.set(key, entry)
    }
  }
  await upsertVisibility(db, siteId, market.id, rollup)
  await saveYears(db, siteId, market.id, [...years.values()])
  await savePages(db, siteId, market.id, days)
  await saveFeatures(db, siteId, market.id, days)
}

async function searchesBySlot(db: Db, siteId: number, place: string): Promise<Float64Array> {
  const rows = await manySearchesBySlot(db, siteId, place)
  const values = new Float64Array(rows.reduce((most, row) => Math.max(most, row.slot + 1), 0)).fill(Number.NaN)
  for (const row of rows) if (row.searches !== null) values[row.slot] = row.searches
  return values
}

const slotsAtATime = 5_000
async function saveYears(
  db: Db,
  siteId: number,
  marketId: number,
  changed: Array<{ slot: number; year: number; values: Map<number, number> }>,
): Promise<void> {
  const slots = [...new Set(changed.map(entry => entry.slot))]
  const years = [...new Set(changed.map(entry => entry.year))]
  const before = new Map<string, Buffer>()
  for (let at = 0; at < slots.length; at += slotsAtATime)
    for (const row of await manyYearsOf(db, siteId, marketId, slots.slice(at, at + slotsAtATime), years))
      before.set(`${row.slot}:${row.year}`, row.positions)
  const rows = changed.map(({ slot, year, values }) => {
    const old = before.get(`${slot}:${year}`)
    const positions = old ? decodeDay(old) : new Int16Array(366)
    for (const [index, position] of values) positions[index] = position
    return { marketId, slot, year, positions: encodeDay(positions) }
  })
  for (let at = 0; at < rows.length; at += 2_000) await upsertYears(db, siteId, rows.slice(at, at + 2_000))
}

/** Only changes are written. Days before what is known are compared with the day before them, so late imports do not repeat a page. */
async function savePages(db: Db, siteId: number, marketId: number, days: DayFindings[]): Promise<void> {
  const first = days[0]!.day
  const dayBefore = new Date(Date.parse(first) - msADay).toISOString().slice(0, 10)
  const last = new Map((await manyPagesOn(db, siteId, marketId, dayBefore)).map(row => [row.slot, row.url]))
  const changes: Array<{ marketId: number; slot: number; day: string; url: string | null }> = []
  for (const { day, pages } of days) {
    for (const [slot, url] of pages) {
      if (last.has(slot) && last.get(slot) === url) continue
      last.set(slot, url)
      changes.push({ marketId, slot, day, url })
    }
  }
  for (let at = 0; at < changes.length; at += 5_000) await upsertPagesFound(db, siteId, changes.slice(at, at + 5_000))
}

async function saveFeatures(db: Db, siteId: number, marketId: number, days: DayFindings[]): Promise<void> {
  if (!days.some(({ features }) => features?.size)) return
  const dayBefore = new Date(Date.parse(days[0]!.day) - msADay).toISOString().slice(0, 10)
  const last = new Map((await manyFeaturesOn(db, siteId, marketId, dayBefore)).map(row => [row.slot, row]))
  const changes: FeatureRow[] = []
  for (const { day, features } of days)
    for (const [slot, { shown, held }] of features ?? []) {
      const before = last.get(slot)
      if (before?.shown === shown && before.held === held) continue
      const row = { slot, day, shown, held }
      last.set(slot, row)
      changes.push(row)
    }
  await upsertFeaturesFound(db, siteId, marketId, changes)
}

/** Works out visibility of every day of a place's markets again, after searches became known or changed. */
export async function recomputeVisibility(context: Context, siteId: number, place: string): Promise<void> {
  const site = await needSite(context.pool, siteId)
  await inTransaction(context.pool, async db => {
    await lockSite(db, siteId)
    const searches = await searchesBySlot(db, siteId, place)
    for (const market of site.markets.filter(each => each.place === place)) {
      const days = await manyDays(db, siteId, market.id, '0001-01-01', '9999-12-31')
      const rows = days.map(row => {
        const vector = decodeDay(row.positions)
        return { day: row.day, visibility: visibility(vector, searches, market.device), ...positionSpread(vector) }
      })
      if (rows.length) await upsertVisibility(db, siteId, market.id, rows)
    }
  })
  context.events.publish(siteId, { type: 'positions' })
}
