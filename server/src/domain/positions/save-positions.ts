import { setImmediate as othersAnswered } from 'node:timers/promises'
import type { Market } from '@dew-trail/contract/sites'
import { type DayVector, decodeDay, encodeDay, mergeDay, notChecked } from '@dew-trail/core/positions/day-vector'
import { positionSpread } from '@dew-trail/core/positions/spread'
import { visibility } from '@dew-trail/core/positions/visibility'
import type { Context } from '../../context.ts'
import { type Db, inTransaction } from '../../platform/db/pool.ts'
import { needSite } from '../sites/need-market.ts'
import { lockSite, touchSlots } from '../sites/queries.ts'
import { foldDays, foldIfMany } from './fold-years.ts'
import { manyDays, maybeLastDay, upsertDays, upsertVisibility, type VisibilityRow } from './day-queries.ts'
import { type FeatureRow, manyFeaturesOn, manyPagesOn, upsertFeaturesFound, upsertPagesFound } from './found-queries.ts'
import { manySearchesBySlot } from './slot-queries.ts'
import { maybeFoldedUntil } from './year-queries.ts'

/** What was found on one day in one market: by slot, a day-vector value, the page, and what else the result page held. */
export type DayFindings = {
  day: string
  positions: Map<number, number>
  pages: Map<number, string | null>
  features?: Map<number, { shown: number; held: number }>
}

const msADay = 86_400_000

/**
 * Writes findings of a market into the record: day vectors, then what derives from them (years of the touched slots where the days are
 * folded already, visibility of the touched days, changes of the page found). Call in a transaction under the site's lock. Days may come
 * in any order. Gives the days as they stood before, those that were there.
 */
export async function savePositions(
  db: Db,
  siteId: number,
  market: Market,
  findings: DayFindings[],
): Promise<ReadonlyMap<string, DayVector>> {
  if (!findings.length) return new Map()
  const days = [...findings].sort((a, b) => (a.day < b.day ? -1 : 1))
  const before = new Map(
    (await manyDays(db, siteId, market.id, days[0]!.day, days.at(-1)!.day)).map(row => [
      row.day,
      decodeDay(row.positions),
    ]),
  )
  const known = new Map(before)
  // What was not looked up on a new day is not known of it any more. Whoever saves tells of what was.
  const last = await maybeLastDay(db, siteId, market.id)
  const newest = days.at(-1)!
  if (last && newest.day > last.day) {
    const forgotten: number[] = []
    for (const [slot, position] of decodeDay(last.positions).entries())
      if (position !== notChecked && !newest.positions.has(slot)) forgotten.push(slot)
    await touchSlots(db, siteId, forgotten)
  }
  const searches = await searchesBySlot(db, siteId, market.place)
  const rollup: VisibilityRow[] = []
  for (const { day, positions } of days) {
    const vector = mergeDay(known.get(day) ?? null, positions)
    known.set(day, vector)
    const spread = positionSpread(vector)
    rollup.push({ day, visibility: visibility(vector, searches, market.device), ...spread })
  }
  const written = days.map(({ day }) => ({ day, positions: encodeDay(known.get(day)!) }))
  await upsertDays(db, siteId, market.id, written)
  await upsertVisibility(db, siteId, market.id, rollup)
  await saveYears(db, siteId, market.id, days, known)
  await savePages(db, siteId, market.id, days)
  await saveFeatures(db, siteId, market.id, days)
  return before
}

async function searchesBySlot(db: Db, siteId: number, place: string): Promise<Float64Array> {
  const rows = await manySearchesBySlot(db, siteId, place)
  const values = new Float64Array(rows.reduce((most, row) => Math.max(most, row.slot + 1), 0)).fill(Number.NaN)
  for (const row of rows) if (row.searches !== null) values[row.slot] = row.searches
  return values
}

/** Days that are folded already are put into their keywords' years at once, later ones wait (`foldDays`). */
async function saveYears(
  db: Db,
  siteId: number,
  marketId: number,
  days: readonly DayFindings[],
  known: ReadonlyMap<string, DayVector>,
): Promise<void> {
  const until = await maybeFoldedUntil(db, siteId, marketId)
  const folded = days.filter(({ day }) => until !== null && day <= until)
  const slots = new Set(folded.flatMap(({ positions }) => [...positions.keys()]))
  const vectors = folded.map(({ day }) => ({ day, vector: known.get(day)! }))
  if (folded.length) await foldDays(db, siteId, marketId, vectors, [...slots])
  await foldIfMany(db, siteId, marketId)
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
      const rows: VisibilityRow[] = []
      for (const { day, positions } of days) {
        const vector = decodeDay(positions)
        rows.push({ day, visibility: visibility(vector, searches, market.device), ...positionSpread(vector) })
        // Others are answered in between.
        if (rows.length % 50 === 0) await othersAnswered()
      }
      if (rows.length) await upsertVisibility(db, siteId, market.id, rows)
    }
  })
  context.events.publish(siteId, { type: 'positions' })
}
