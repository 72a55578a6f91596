import { setImmediate as othersAnswered } from 'node:timers/promises'
import { AppError } from '@dew-trail/contract/errors'
import type { Market } from '@dew-trail/contract/sites'
import type { KeywordHistory, listPositions } from '@dew-trail/contract/track'
import { decodeDay, notChecked, positionAt } from '@dew-trail/core/positions/day-vector'
import { pageIdentity } from '@dew-trail/core/web/page-identity'
import { visibility } from '@dew-trail/core/positions/visibility'
import type pg from 'pg'
import { manyCurrentThemes } from '../../domain/themes/queries.ts'
import type { z } from 'zod'
import { needMarket, needSite } from '../../domain/sites/need-market.ts'
import { visitReader } from '../../domain/chances/visits-of.ts'
import { manyOrganicShares } from '../../domain/chances/queries.ts'
import { DayReader, type Known, shiftDay } from '../../domain/positions/day-reader.ts'
import { manyLastDays, manyOpenPositions, maybeLastDay } from '../../domain/positions/day-queries.ts'
import { manyFeaturesOn, manyPagesFound, manyPagesOn } from '../../domain/positions/found-queries.ts'
import { manyRowFacts, manySlots, maybeSlot, type SlotRow } from '../../domain/positions/slot-queries.ts'
import { manyYears } from '../../domain/positions/year-queries.ts'
import { dayAt } from '../../domain/positions/position-series.ts'
import { readRivalPositions } from './read-rival-positions.ts'

const recentDays = 30
/** After so many rows others are answered. */
const rowsAtATime = 2_000
type Positions = z.input<(typeof listPositions)['output']>

/**
 * The table of tracked keywords of a market: the last known position of each with its day, what it was before, the last thirty days,
 * other markets, the page found. A newest day on which few were checked takes nothing from the others. `most`: only so many rows, those
 * at the best positions; what is said beside the rows is of all of them.
 */
export async function readPositions(
  pool: pg.Pool,
  siteId: number,
  marketId: number,
  compareDays: number,
  most: number = Number.POSITIVE_INFINITY,
): Promise<Positions> {
  const site = await needSite(pool, siteId)
  const market = await needMarket(pool, siteId, marketId)
  // What does not wait for anything is asked at once: the database has more processors than one question uses.
  const [all, last, visits] = await Promise.all([
    manySlots(pool, siteId, market),
    maybeLastDay(pool, siteId, marketId),
    visitReader(pool, siteId, market),
  ])
  if (!last) return neverChecked(pool, siteId, marketId, all, most)
  const reader = new DayReader(pool, siteId, marketId)
  const beforeDay = shiftDay(last.day, -compareDays)
  await reader.readFrom(shiftDay(last.day, 1 - recentDays))
  const now = await reader.lastKnown(
    all.map(row => row.slot),
    last.day,
  )
  const before = await readBefore(reader, now, compareDays)
  const tracked = all.length > most ? bestPlaced(all, now, most) : all
  const slots = tracked.map(row => row.slot)
  const keywordIds = tracked.map(row => row.keywordId)
  // Of all rows they are read whole, which is quicker than by their numbers.
  const [fewSlots, fewIds] = tracked === all ? [null, null] : [slots, keywordIds]
  const otherMarkets = site.markets.filter(other => other.id !== marketId && other.language === market.language)
  const valuesOf = (known: ReadonlyMap<number, Known>): number[] => slots.map(slot => known.get(slot)?.position ?? 0)
  const [themes, factRows, organic, others, rivals, pageRows, pageRowsBefore, featureRows] = await Promise.all([
    manyCurrentThemes(pool, siteId, marketId, fewIds),
    manyRowFacts(pool, siteId, fewIds),
    manyOrganicShares(pool, siteId, marketId, fewIds),
    Promise.all(
      otherMarkets.map(async ({ id }) => {
        const there = new DayReader(pool, siteId, id)
        const known = await there.lastKnown(slots, last.day)
        return { marketId: id, now: valuesOf(known), before: valuesOf(await readBefore(there, known, compareDays)) }
      }),
    ),
    readRivalPositions(
      pool,
      siteId,
      marketId,
      keywordIds,
      visits.brands.filter(brand => !brand.own).map(brand => brand.owner),
    ),
    manyPagesOn(pool, siteId, marketId, last.day, fewSlots),
    manyPagesOn(pool, siteId, marketId, beforeDay, fewSlots),
    manyFeaturesOn(pool, siteId, marketId, last.day, fewSlots),
  ])
  const facts = new Map(factRows.map(row => [row.keywordId, row]))
  const days = Array.from({ length: recentDays }, (_, i) => reader.vectorOf(shiftDay(last.day, i + 1 - recentDays)))
  const pages = new Map(pageRows.map(row => [row.slot, row.url]))
  const pagesBefore = new Map(pageRowsBefore.map(row => [row.slot, row.url]))
  const features = new Map(featureRows.map(row => [row.slot, row]))
  const plannedBeside = (row: SlotRow): string | null => {
    const [planned, found] = [facts.get(row.keywordId)?.planned, pages.get(row.slot)]
    if (!planned || !found) return null
    const url = new URL(planned, `https://${site.domain}`).href
    return pageIdentity(url) === pageIdentity(found) ? null : url
  }
  // Field by field: an object that is spread into another one is made twenty times slower, and ten thousand are made.
  const rows: Positions['rows'] = []
  for (const row of tracked) {
    if (rows.length % rowsAtATime === rowsAtATime - 1) await othersAnswered()
    const { slot, searches, keywordId } = row
    const known = now.get(slot)
    const was = before.get(slot)
    const fact = facts.get(keywordId)
    const feature = features.get(slot)
    const position = known?.position ?? 0
    const recent = new Array<number>(days.length)
    let best: number | null = null
    for (let i = 0; i < days.length; i++) {
      const value = positionAt(days[i]!, slot)
      recent[i] = value
      if (value > 0 && (best === null || value < best)) best = value
    }
    const isBrand = visits.brandOf(row.phrase) !== null
    rows.push({
      id: keywordId,
      phrase: row.phrase,
      family: row.family,
      searches,
      hidden: row.hidden,
      now: position,
      nowDay: known?.day ?? null,
      before: was?.position ?? 0,
      beforeDay: was?.day ?? null,
      best,
      recent,
      visits: visits.visitsAt(position, searches, organic.get(keywordId) ?? null, isBrand),
      page: pages.get(slot) ?? null,
      pageBefore: pagesBefore.get(slot) ?? null,
      theme: themes.get(keywordId) ?? null,
      trackedSince: fact?.since ?? '',
      labels: fact?.labels ?? null,
      shown: feature?.shown ?? null,
      held: feature?.held ?? null,
      planned: plannedBeside(row),
    })
  }
  let checked = 0
  for (const { day } of now.values()) if (day === last.day) checked++
  return {
    total: all.length,
    lastDay: last.day,
    beforeDay: before.size ? beforeDay : null,
    checkedAt: last.checkedAt.toISOString(),
    checked,
    visibility: visibilityOf(
      all.map(({ slot, searches }) => ({
        now: now.get(slot)?.position ?? 0,
        before: before.get(slot)?.position ?? 0,
        searches,
      })),
      market.device,
    ),
    rows,
    others,
    rivals,
  }
}

/** So many rows at the best positions, in their order; of those at one position the first. */
function bestPlaced(rows: readonly SlotRow[], now: ReadonlyMap<number, Known>, most: number): SlotRow[] {
  const places = rows.map(row => {
    const position = now.get(row.slot)?.position ?? 0
    return position > 0 ? position : Number.POSITIVE_INFINITY
  })
  const best = rows.map((_, i) => i).sort((a, b) => places[a]! - places[b]! || a - b)
  return best
    .slice(0, most)
    .sort((a, b) => a - b)
    .map(i => rows[i]!)
}

/** Tracked keywords of a market in which nothing was checked yet. */
async function neverChecked(
  pool: pg.Pool,
  siteId: number,
  marketId: number,
  all: readonly SlotRow[],
  most: number,
): Promise<Positions> {
  const [themes, factRows] = await Promise.all([manyCurrentThemes(pool, siteId, marketId), manyRowFacts(pool, siteId)])
  const facts = new Map(factRows.map(row => [row.keywordId, row]))
  return {
    total: all.length,
    ...{ lastDay: null, beforeDay: null, checkedAt: null, checked: 0 },
    visibility: { now: null, change: null, keywords: 0 },
    others: [],
    rivals: [],
    rows: all.slice(0, most).map(({ keywordId, phrase, family, searches, hidden }) => ({
      id: keywordId,
      ...{ phrase, family, searches, hidden },
      now: 0,
      nowDay: null,
      before: 0,
      beforeDay: null,
      best: null,
      recent: [],
      visits: null,
      page: null,
      pageBefore: null,
      theme: themes.get(keywordId) ?? null,
      trackedSince: facts.get(keywordId)?.since ?? '',
      labels: facts.get(keywordId)?.labels ?? null,
      shown: null,
      held: null,
      planned: null,
    })),
  }
}

/** What each slot's position was so many days before the day its own is of. */
export async function readBefore(
  reader: DayReader,
  now: ReadonlyMap<number, Known>,
  compareDays: number,
): Promise<Map<number, Known>> {
  const byDay = new Map<string, number[]>()
  for (const [slot, { day }] of now) {
    const slots = byDay.get(day)
    if (slots) slots.push(slot)
    else byDay.set(day, [slot])
  }
  const before = new Map<number, Known>()
  for (const [day, slots] of byDay)
    for (const [slot, known] of await reader.lastKnown(slots, shiftDay(day, -compareDays))) before.set(slot, known)
  return before
}

/**
 * Visibility by the last known positions, and its change from those of the same keywords before: like is compared with like, whatever
 * range a picture shows. `keywords`: of how many, those whose position and searches are known.
 */
export function visibilityOf(
  rows: ReadonlyArray<{ now: number; before: number; searches: number | null }>,
  device: Market['device'],
): Positions['visibility'] {
  const of = (list: typeof rows, position: (row: (typeof rows)[number]) => number): number | null =>
    visibility(
      Int16Array.from(list, position),
      Float64Array.from(list, row => row.searches ?? Number.NaN),
      device,
    )
  const both = rows.filter(row => row.now !== 0 && row.before !== 0)
  const [then, since] = [of(both, row => row.before), of(both, row => row.now)]
  return {
    now: of(rows, row => row.now),
    change: then === null || since === null ? null : since - then,
    keywords: rows.filter(row => row.now !== 0 && row.searches !== null).length,
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
  const [years, open, lastDays, pages] = await Promise.all([
    manyYears(pool, siteId, slot.slot),
    manyOpenPositions(pool, siteId, slot.slot),
    manyLastDays(pool, siteId),
    manyPagesFound(pool, siteId, slot.slot),
  ])
  const newest = open
    .map(({ position, ...row }) => ({ ...row, position: position.readInt16LE() }))
    .filter(row => row.position !== notChecked)
  const marketIds = [...new Set([...years, ...newest].map(row => row.marketId))].sort((a, b) => a - b)
  const to = marketIds.map(id => lastDays.get(id) ?? '').reduce((last, day) => (day > last ? day : last), '')
  if (!to) return { keywordId, phrase: slot.phrase, from: null, to: null, markets: [], pages: [] }
  const from = shiftDay(to, 1 - days)
  const positions = new Map(marketIds.map(id => [id, new Array<number>(days).fill(notChecked)]))
  for (const row of years) {
    const of = positions.get(row.marketId)!
    // Where the year's first day stands in what is shown.
    const begins = dayAt(from, `${row.year}-01-01`)
    for (const [index, position] of decodeDay(row.positions).entries())
      if (position !== notChecked && begins + index >= 0 && begins + index < days) of[begins + index] = position
  }
  for (const { marketId, day, position } of newest) {
    const at = dayAt(from, day)
    if (at >= 0 && at < days) positions.get(marketId)![at] = position
  }
  return {
    keywordId,
    phrase: slot.phrase,
    from,
    to,
    markets: marketIds.map(marketId => ({ marketId, positions: positions.get(marketId)! })),
    pages,
  }
}
