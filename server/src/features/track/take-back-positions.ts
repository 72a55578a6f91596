import { type DayVector, decodeDay, notChecked, positionAt } from '@dew-trail/core/positions/day-vector'
import type pg from 'pg'
import { setTakenBack, takeKeywordsBack } from '../../domain/imports/queries.ts'
import { needLatest } from '../../domain/imports/set-aside.ts'
import type { TakeBackWork } from '../../domain/imports/take-back-work.ts'
import { manyDays } from '../../domain/positions/day-queries.ts'
import { manyPageChanges, upsertPagesFound } from '../../domain/positions/found-queries.ts'
import { setTracked } from '../../domain/positions/slot-queries.ts'
import { type DayFindings, savePositions } from '../../domain/positions/save-positions.ts'
import { needMarket } from '../../domain/sites/need-market.ts'
import { lockSite, touchTracked } from '../../domain/sites/queries.ts'
import { type Db, inTransaction } from '../../platform/db/pool.ts'
import {
  deleteDays,
  deletePagesFound,
  insertWritten,
  manyWrittenDays,
  manyWrittenMarkets,
  manyWrittenPages,
  type WrittenDay,
  type WrittenPage,
} from './take-back-queries.ts'

const endOfTime = '9999-12-31'
const keyOf = ({ slot, day }: { slot: number; day: string }): string => `${slot} ${day}`

/** Pages found in a market from a day to another, by slot and day, where they changed. */
async function pagesBetween(db: Db, siteId: number, marketId: number, from: string, to: string) {
  const before = new Date(Date.parse(from) - 86_400_000).toISOString().slice(0, 10)
  const rows = await manyPageChanges(db, siteId, marketId, before, to)
  return new Map(rows.map(row => [keyOf(row), row]))
}

/** Writes findings of an import by `save` and keeps what stood there before. */
export async function keepBefore(
  db: pg.PoolClient,
  siteId: number,
  importId: number,
  marketId: number,
  findings: readonly DayFindings[],
  save: () => Promise<ReadonlyMap<string, DayVector>>,
): Promise<void> {
  const days = findings.map(each => each.day).sort()
  const [from, to] = [days[0]!, days.at(-1)!]
  const pagesBefore = await pagesBetween(db, siteId, marketId, from, to)
  const vectors = await save()
  const written = findings.map(({ day, positions }): WrittenDay => {
    const slots = Int32Array.from(positions.keys())
    const vector = vectors.get(day) ?? null
    const before = Int16Array.from(slots, slot => positionAt(vector, slot))
    return { day, slots, before, written: Int16Array.from(positions.values()) }
  })
  const pages: WrittenPage[] = []
  for (const [key, { slot, day, url }] of await pagesBetween(db, siteId, marketId, from, to)) {
    const before = pagesBefore.get(key) ?? null
    if (!before || before.url !== url) pages.push({ slot, day, url, before: before && { url: before.url } })
  }
  await insertWritten(db, siteId, importId, marketId, written, pages)
}

/**
 * Puts positions and pages as they stood before an import, or as it had them, where nothing else was found out since; keywords that it began
 * to track are tracked no longer, and those that it alone brought and nobody uses are left out.
 */
export const takeBackPositions: TakeBackWork = async (context, control, row, on) => {
  const { siteId, id: importId } = row
  const begun = row.brought!.begun as number[]
  if (row.takenBack === on) return {}
  const done = await inTransaction(context.pool, async db => {
    await lockSite(db, siteId)
    await needLatest(
      db,
      row,
      `exists (select from import_position a join import_position b on b.site_id = $1 and b.import_id = l.id
         and b.market_id = a.market_id and b.day = a.day where a.site_id = $1 and a.import_id = $2)`,
    )
    if (!on) await setTracked(db, siteId, begun, true)
    const markets = await manyWrittenMarkets(db, siteId, importId)
    let positions = 0
    for (const [i, marketId] of markets.entries()) {
      positions += await swapMarket(db, siteId, importId, marketId, on)
      await control.step(i + 1, markets.length + 1)
    }
    if (on) await setTracked(db, siteId, begun, false)
    await setTakenBack(db, siteId, importId, on)
    const keywords = await takeKeywordsBack(db, siteId, importId, on)
    await touchTracked(db, siteId)
    return { positions, keywords }
  })
  for (const type of ['positions', 'keywords'] as const) context.events.publish(siteId, { type })
  return done
}

/** Gives how many positions of a market were changed. */
async function swapMarket(db: pg.PoolClient, siteId: number, importId: number, marketId: number, on: boolean) {
  const written = await manyWrittenDays(db, siteId, importId, marketId)
  const [from, to] = [written[0]!.day, written.at(-1)!.day]
  const vectors = new Map(
    (await manyDays(db, siteId, marketId, from, endOfTime)).map(row => [row.day, decodeDay(row.positions)]),
  )
  let count = 0
  const empty: string[] = []
  const findings = written.map(({ day, slots, ...values }): DayFindings => {
    const vector = vectors.get(day) ?? null
    const [is, becomes] = on ? [values.written, values.before] : [values.before, values.written]
    const positions = new Map<number, number>()
    for (const [i, slot] of slots.entries())
      if (positionAt(vector, slot) === is[i] && is[i] !== becomes[i]) positions.set(slot, becomes[i]!)
    count += positions.size
    if (vector?.every((position, slot) => (positions.get(slot) ?? position) === notChecked)) empty.push(day)
    return { day, positions, pages: new Map() }
  })
  await savePositions(db, siteId, await needMarket(db, siteId, marketId), findings)
  await deleteDays(db, siteId, marketId, empty)
  const there = await pagesBetween(db, siteId, marketId, from, to)
  const gone: WrittenPage[] = []
  const set: Array<{ marketId: number; slot: number; day: string; url: string | null }> = []
  for (const page of await manyWrittenPages(db, siteId, importId, marketId)) {
    const { slot, day, url, before } = page
    const now = there.get(keyOf(page))
    const expected = on ? { url } : before
    // Something else was found out since.
    if (now?.url !== expected?.url || Boolean(now) !== Boolean(expected)) continue
    if (!on) set.push({ marketId, slot, day, url })
    else if (before) set.push({ marketId, slot, day, url: before.url })
    else gone.push(page)
  }
  await deletePagesFound(db, siteId, marketId, gone)
  // The page went on being found on later days that others checked: it is said there, where it was not said before.
  const daysOf = new Map(findings.map(each => [each.day, each.positions]))
  const later = await pagesBetween(db, siteId, marketId, from, endOfTime)
  const bySlot = new Map<number, string[]>()
  for (const { slot, day } of later.values()) bySlot.set(slot, [...(bySlot.get(slot) ?? []), day])
  const checked = [...vectors].sort(([a], [b]) => (a < b ? -1 : 1))
  for (const { slot, day, url } of gone) {
    const until = bySlot.get(slot)?.find(each => each >= day) ?? endOfTime
    const first = checked.find(
      ([each, vector]) =>
        each > day && each < until && !daysOf.get(each)?.has(slot) && positionAt(vector, slot) !== notChecked,
    )
    if (first) set.push({ marketId, slot, day: first[0], url })
  }
  await upsertPagesFound(db, siteId, set)
  return count
}
