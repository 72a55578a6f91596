import type { KeywordHistory, TrackedRow } from '@dew-trail/contract/track'
import { AppError } from '@dew-trail/contract/errors'
import { expectedVisits } from '@dew-trail/core/demand/click-curve'
import { decodeDay, positionAt } from '@dew-trail/core/positions/day-vector'
import type pg from 'pg'
import { needMarket, needSite } from '../sites/need-market.ts'
import {
  manyDays,
  manyPagesFound,
  manyPagesOn,
  manySlots,
  manyYears,
  maybeDayAt,
  maybeLastDay,
  maybeSlot,
} from './queries.ts'
import { dayIndex } from './save-positions.ts'

const msADay = 86_400_000
const recentDays = 30
const shift = (day: string, days: number): string =>
  new Date(Date.parse(day) + days * msADay).toISOString().slice(0, 10)

/** The table of tracked keywords of a market: now, before, the last thirty days, other markets, page found. */
export async function readPositions(
  pool: pg.Pool,
  siteId: number,
  marketId: number,
  compareDays: number,
): Promise<{ lastDay: string | null; beforeDay: string | null; checkedAt: string | null; rows: TrackedRow[] }> {
  const site = await needSite(pool, siteId)
  const market = await needMarket(pool, siteId, marketId)
  const slots = await manySlots(pool, siteId, market.place)
  const last = await maybeLastDay(pool, siteId, marketId)
  if (!last)
    return {
      lastDay: null,
      beforeDay: null,
      checkedAt: null,
      rows: slots.map(row => ({
        id: row.keywordId,
        phrase: row.phrase,
        searches: row.searches,
        now: 0,
        before: 0,
        best: null,
        recent: [],
        other: {},
        visits: null,
        page: null,
        pageBefore: null,
      })),
    }
  const before = await maybeDayAt(pool, siteId, marketId, shift(last.day, -compareDays))
  const days = new Map(
    (await manyDays(pool, siteId, marketId, shift(last.day, 1 - recentDays), last.day)).map(row => [
      row.day,
      decodeDay(row.places),
    ]),
  )
  const series = Array.from({ length: recentDays }, (_, i) => days.get(shift(last.day, i + 1 - recentDays)) ?? null)
  const others = await Promise.all(
    site.markets
      .filter(other => other.id !== marketId && other.language === market.language)
      .map(async other => ({ id: other.id, day: await maybeDayAt(pool, siteId, other.id, last.day) })),
  )
  const otherVectors = others.map(({ id, day }) => ({ id, vector: day ? decodeDay(day.places) : null }))
  const pages = new Map((await manyPagesOn(pool, siteId, marketId, last.day)).map(row => [row.slot, row.url]))
  const pagesBefore = before
    ? new Map((await manyPagesOn(pool, siteId, marketId, before.day)).map(row => [row.slot, row.url]))
    : new Map<number, string | null>()
  const now = decodeDay(last.places)
  const then = before ? decodeDay(before.places) : null
  return {
    lastDay: last.day,
    beforeDay: before?.day ?? null,
    checkedAt: last.checkedAt.toISOString(),
    rows: slots.map(row => {
      const place = positionAt(now, row.slot)
      const recent = series.map(vector => positionAt(vector, row.slot))
      const found = recent.filter(value => value > 0)
      return {
        id: row.keywordId,
        phrase: row.phrase,
        searches: row.searches,
        now: place,
        before: positionAt(then, row.slot),
        best: found.length ? Math.min(...found) : null,
        recent,
        other: Object.fromEntries(otherVectors.map(({ id, vector }) => [String(id), positionAt(vector, row.slot)])),
        visits:
          place > 0
            ? expectedVisits(row.searches, place, market.device)
            : place < 0 && row.searches !== null
              ? 0
              : null,
        page: pages.get(row.slot) ?? null,
        pageBefore: pagesBefore.get(row.slot) ?? null,
      }
    }),
  }
}

/** One keyword's places in every market, day by day, and where the page found changed. */
export async function readHistory(
  pool: pg.Pool,
  siteId: number,
  keywordId: number,
  days: number,
): Promise<KeywordHistory> {
  const slot = await maybeSlot(pool, siteId, keywordId)
  if (!slot) throw new AppError('notFound', 'This keyword is not tracked, so it has no history')
  const years = await manyYears(pool, siteId, slot.slot)
  const marketIds = [...new Set(years.map(row => row.marketId))]
  const values = new Map(years.map(row => [`${row.marketId}:${row.year}`, decodeDay(row.places)]))
  const lastDays = await Promise.all(marketIds.map(marketId => maybeLastDay(pool, siteId, marketId)))
  const to = lastDays
    .map(row => row?.day ?? '')
    .sort()
    .at(-1)
  if (!to) return { keywordId, phrase: slot.phrase, from: null, to: null, markets: [], pages: [] }
  const from = shift(to, 1 - days)
  const dates = Array.from({ length: days }, (_, i) => shift(from, i))
  return {
    keywordId,
    phrase: slot.phrase,
    from,
    to,
    markets: marketIds.map(marketId => ({
      marketId,
      places: dates.map(day => values.get(`${marketId}:${Number(day.slice(0, 4))}`)?.[dayIndex(day)] ?? 0),
    })),
    pages: await manyPagesFound(pool, siteId, slot.slot),
  }
}
