import { setImmediate as othersAnswered } from 'node:timers/promises'
import type { Changes, MovedKeyword } from '@dew-trail/contract/track-changes'
import { figureParts } from '@dew-trail/core/demand/shared-figures'
import { positionsDown } from '@dew-trail/core/positions/position-depth'
import { likelyReasons } from '@dew-trail/core/positions/likely-reason'
import { usualChange } from '@dew-trail/core/positions/usual-change'
import type pg from 'pg'
import { manyOrganicShares } from '../../domain/chances/queries.ts'
import { visitReader } from '../../domain/chances/visits-of.ts'
import { shiftDay } from '../../domain/positions/day-reader.ts'
import { positionSeries } from '../../domain/positions/position-series.ts'
import { maybeLastDay } from '../../domain/positions/day-queries.ts'
import { manySlots, type SlotRow } from '../../domain/positions/slot-queries.ts'
import { needMarket, needSite } from '../../domain/sites/need-market.ts'
import { evidenceReader } from './gather-evidence.ts'
import { manyMonthly } from './change-queries.ts'
import { readShifts } from './read-shifts.ts'

/** Days before the day compared with that tell what is usual. */
export const daysBefore = 28
const mostListed = 300

type Known = SlotRow & { days: Int16Array; before: number; now: number }

/** What moved since a day beyond its usual, and the likely reason of each; reasons of those with most visits only. `until`: the last day that is looked at. */
export async function readChanges(
  pool: pg.Pool,
  siteId: number,
  marketId: number,
  since: string,
  until?: string,
): Promise<Changes> {
  const [site, market] = await Promise.all([needSite(pool, siteId), needMarket(pool, siteId, marketId)])
  const last = await maybeLastDay(pool, siteId, marketId, until)
  const nothing = { compared: 0, usual: 0, moved: 0, visits: null, season: null, reasons: [], keywords: [], shifts: [] }
  if (!last || last.day <= since) return { since, day: last?.day ?? null, ...nothing }
  const tracked = await manySlots(pool, siteId, market)
  const from = shiftDay(since, -daysBefore)
  const slots = tracked.map(row => row.slot)
  const series = await positionSeries(pool, siteId, marketId, slots, from, last.day)
  const compared = tracked.flatMap((row): Known[] => {
    const days = series.of.get(row.slot)!
    const before = lastKnown(days, 0, daysBefore)
    const now = lastKnown(days, daysBefore + 1, days.length - 1)
    if (before === 0 || now === 0) return []
    const { keywordId, slot, phrase, family, searches, hidden } = row
    return [{ keywordId, slot, phrase, family, searches, hidden, days, before, now }]
  })
  // Between the stretches over all keywords others are answered: a report asks this for ten thousand.
  await othersAnswered()
  const [reader, organic, allShifts] = await Promise.all([
    visitReader(pool, siteId, market),
    manyOrganicShares(pool, siteId, marketId),
    readShifts(pool, siteId, series.days.length - daysBefore, last.day),
  ])
  const visitsOf = (row: Known, position: number): number | null =>
    reader.visitsAt(position, row.searches, organic.get(row.keywordId) ?? null, reader.brandOf(row.phrase) !== null)
  const parts = figureParts(compared)
  const judged = compared.map((row, i) => {
    const [before, now] = [visitsOf(row, row.before), visitsOf(row, row.now)]
    const gained = positionsDown(row.before)! - positionsDown(row.now)!
    // A keyword of which little is known before is held against all that is known of it.
    const usual = usualChange(row.days.subarray(0, daysBefore + 1)) ?? usualChange(row.days) ?? 1
    const visits = before === null || now === null ? null : now - before
    return { row, gained, usual, before, now, visits, part: parts[i]! }
  })
  await othersAnswered()
  const moved = judged
    .filter(each => Math.abs(each.gained) > each.usual)
    .sort((a, b) => Math.abs(b.visits ?? 0) - Math.abs(a.visits ?? 0) || Math.abs(b.gained) - Math.abs(a.gained))
  const shifts = allShifts.filter(each => each.engine === market.engine && each.day > since)
  const listed = moved.slice(0, mostListed)
  const evidence = await evidenceReader(pool, {
    site,
    market,
    since,
    day: last.day,
    series,
    rows: compared,
    looked: listed.map(({ row }) => row),
    shifts,
  })
  const keywords = listed.map(({ row, gained, usual, visits }): MovedKeyword => {
    const { page, pieces } = evidence(row)
    return {
      keywordId: row.keywordId,
      phrase: row.phrase,
      searches: row.searches,
      before: row.before,
      now: row.now,
      gained,
      usual,
      visits,
      page,
      reasons: likelyReasons(gained, pieces) as MovedKeyword['reasons'],
    }
  })
  const known = judged.filter(each => each.before !== null && each.now !== null)
  const sum = (of: (each: (typeof known)[number]) => number): number =>
    known.reduce((all, each) => all + each.part * of(each), 0)
  return {
    since,
    day: last.day,
    compared: compared.length,
    usual: compared.length - moved.length,
    moved: moved.length,
    visits: known.length ? { before: sum(each => each.before!), now: sum(each => each.now!) } : null,
    season: await seasonBetween(pool, siteId, market.place, compared, since, last.day),
    reasons: sumsOf(keywords),
    keywords,
    shifts,
  }
}

/** The last known value of a series between two days, both included; 0 where there is none. */
function lastKnown(days: Int16Array, from: number, to: number): number {
  for (let at = to; at >= from; at--) if (days[at] !== 0) return days[at]!
  return 0
}

function sumsOf(keywords: readonly MovedKeyword[]): Changes['reasons'] {
  const sums = new Map<string, Changes['reasons'][number]>()
  for (const { reasons, visits } of keywords) {
    const { kind } = reasons[0]!
    const sum = sums.get(kind) ?? { kind, keywords: 0, won: 0, lost: 0 }
    sums.set(kind, sum)
    sum.keywords++
    if ((visits ?? 0) > 0) sum.won += visits!
    else sum.lost -= visits ?? 0
  }
  return [...sums.values()].sort((a, b) => b.won + b.lost - (a.won + a.lost) || b.keywords - a.keywords)
}

/**
 * Searches of keywords in the calendar month of one day against those in that of another, by their newest twelve months; null where both
 * fall into one month or nothing is known.
 */
async function seasonBetween(
  pool: pg.Pool,
  siteId: number,
  place: string,
  rows: readonly SlotRow[],
  since: string,
  day: string,
): Promise<number | null> {
  const [then, now] = [Number(since.slice(5, 7)), Number(day.slice(5, 7))]
  if (then === now) return null
  let [before, after] = [0, 0]
  const ids = rows.map(row => row.keywordId)
  for (const { from, months } of await manyMonthly(pool, siteId, place, ids)) {
    if (months.length < 12) continue
    const first = Number(from.slice(5, 7))
    const inMonth = (month: number): number => {
      const newest = months.length - 1
      const calendarOfNewest = (first - 1 + newest) % 12
      return months[newest - ((calendarOfNewest - (month - 1) + 12) % 12)]!
    }
    before += inMonth(then)
    after += inMonth(now)
  }
  return before > 0 ? after / before - 1 : null
}
