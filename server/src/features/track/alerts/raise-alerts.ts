import type { AlertKind, AlertRule } from '@dew-trail/contract/alerts'
import type { Market } from '@dew-trail/contract/sites'
import { pageSwaps } from '@dew-trail/core/positions/page-swaps'
import { pageIdentity } from '@dew-trail/core/web/page-identity'
import type { Context } from '../../../context.ts'
import { countOf } from '../../../domain/acts/do-act.ts'
import { DayReader, shiftDay } from '../../../domain/positions/day-reader.ts'
import { maybeLastDay } from '../../../domain/positions/day-queries.ts'
import { manyPageChanges, manyPagesOn } from '../../../domain/positions/found-queries.ts'
import { manySlots, type SlotRow } from '../../../domain/positions/slot-queries.ts'
import { needMarket } from '../../../domain/sites/need-market.ts'
import { readBefore, visibilityOf } from '../read-positions.ts'
import { readShifts } from '../read-shifts.ts'
import { manyLabelled, manyRules, type NewAlert, upsertAlert } from './queries.ts'
import { manyPassed } from './passed-queries.ts'

const firstPage = 10
const compareDays = 7
const mostNamed = 50
/** A page swap is certain three days after it; alerts are raised for it for some days more, in case checks are rare. */
const raisedForDays = 10

type Tracked = SlotRow & { now: number; before: number }
type Looked = {
  db: Context['pool']
  siteId: number
  market: Market
  day: string
  /** Keywords with their last known positions now and before the last checked day. */
  rows: Tracked[]
  reader: DayReader
}

/**
 * Holds the rules of a site against what a check of a market found, and tells of what meets them; the same twice is told once. `failed`:
 * how many keywords could not be checked. Gives how many alerts are new.
 */
export async function raiseAlerts(
  { pool, events }: Context,
  siteId: number,
  marketId: number,
  { failed, of }: { failed: number; of: number },
): Promise<number> {
  const rules = (await manyRules(pool, siteId)).filter(rule => rule.active)
  if (!rules.length) return 0
  const market = await needMarket(pool, siteId, marketId)
  const last = await maybeLastDay(pool, siteId, marketId)
  const today = new Date().toISOString().slice(0, 10)
  let raised = 0
  const looked = last ? await look(pool, siteId, market, last.day) : null
  for (const rule of rules) {
    const found =
      rule.kind === 'checkFailed'
        ? failedAlert(failed, of, today)
        : looked && (await finders[rule.kind](await ofLabel(looked, rule), rule))
    if (found && (await upsertAlert(pool, siteId, rule.id, marketId, found))) raised++
  }
  if (raised) events.publish(siteId, { type: 'alerts' })
  return raised
}

async function look(db: Context['pool'], siteId: number, market: Market, day: string): Promise<Looked> {
  const tracked = await manySlots(db, siteId, market)
  const slots = tracked.map(row => row.slot)
  const reader = new DayReader(db, siteId, market.id)
  const now = await reader.lastKnown(slots, day)
  const before = await reader.lastKnown(slots, shiftDay(day, -1))
  return {
    db,
    siteId,
    market,
    day,
    reader,
    rows: tracked.map(row => ({
      ...row,
      now: now.get(row.slot)?.position ?? 0,
      before: before.get(row.slot)?.position ?? 0,
    })),
  }
}

async function ofLabel(looked: Looked, { listId }: AlertRule): Promise<Looked> {
  if (listId === null) return looked
  const labelled = await manyLabelled(looked.db, looked.siteId, listId)
  return { ...looked, rows: looked.rows.filter(row => labelled.has(row.keywordId)) }
}

type Finder = (looked: Looked, rule: AlertRule) => Promise<NewAlert | null>
const finders: Record<Exclude<AlertKind, 'checkFailed'>, Finder> = {
  async visibility({ market, day, rows, reader }, { least }) {
    const now = await reader.lastKnown(
      rows.map(row => row.slot),
      day,
    )
    const before = await readBefore(reader, now, compareDays)
    const { now: value, change } = visibilityOf(
      rows.map(row => ({ ...row, before: before.get(row.slot)?.position ?? 0 })),
      market.device,
    )
    if (value === null || change === null || change > -(least ?? 3)) return null
    return {
      day,
      title: `Visibility fell by ${(-change).toFixed(1)} points in ${compareDays} days`,
      body: `It is ${value.toFixed(1)} now.`,
      keywords: [],
    }
  },
  async leftFirstPage({ day, rows }) {
    const left = rows.filter(
      row => row.before > 0 && row.before <= firstPage && row.now !== 0 && (row.now < 0 || row.now > firstPage),
    )
    return ofRows(day, left, 'left the first page', row => `${row.before} → ${positionWords(row.now)}`)
  },
  async swap({ db, siteId, market, day, rows }) {
    const from = shiftDay(day, -60)
    const pages = new Map<number, Array<{ day: string; page: string | null }>>()
    const add = (slot: number, on: string, url: string | null): void => {
      const list = pages.get(slot) ?? []
      pages.set(slot, list)
      list.push({ day: on, page: url === null ? null : (pageIdentity(url) ?? url) })
    }
    for (const row of await manyPagesOn(db, siteId, market.id, from)) add(row.slot, from, row.url)
    for (const row of await manyPageChanges(db, siteId, market.id, from, day)) add(row.slot, row.day, row.url)
    const swapped = rows.flatMap(row => {
      const swap = pageSwaps(pages.get(row.slot) ?? [], day).at(-1)
      return swap && swap.backOn === null && swap.day >= shiftDay(day, -raisedForDays) ? [{ row, swap }] : []
    })
    if (!swapped.length) return null
    // All swaps of one day are told under it, so that those of other days are not told again.
    const newest = swapped.reduce((latest, { swap }) => (swap.day > latest ? swap.day : latest), '')
    const ofDay = new Map(swapped.filter(({ swap }) => swap.day === newest).map(({ row, swap }) => [row.slot, swap]))
    return ofRows(
      newest,
      rows.filter(row => ofDay.has(row.slot)),
      'found with another page of yours',
      row => `${pathOf(ofDay.get(row.slot)!.from)} → ${pathOf(ofDay.get(row.slot)!.to)}`,
    )
  },
  async rivalPassed({ db, siteId, market, day, rows }) {
    const passed = new Map<number, string[]>()
    for (const { keywordId, domain, position } of await manyPassed(db, siteId, market.id))
      passed.set(keywordId, [...(passed.get(keywordId) ?? []), `${domain} at ${position}`])
    return ofRows(
      day,
      rows.filter(row => passed.has(row.keywordId)),
      'passed by a rival',
      row => passed.get(row.keywordId)!.join(', '),
    )
  },
  async shift({ db, siteId, market, day }) {
    const [shift] = (await readShifts(db, siteId, compareDays, day)).filter(each => each.engine === market.engine)
    return shift
      ? {
          day: shift.day,
          title: `${market.engine} shifted`,
          body: `Keywords moved ${shift.moved.toFixed(1)} places that day, usual are ${shift.usual.toFixed(1)}.`,
          keywords: [],
        }
      : null
  },
}

function failedAlert(failed: number, of: number, day: string): NewAlert | null {
  return failed
    ? {
        day,
        title: `${countOf(failed, 'keyword')} of ${of.toLocaleString('en')} could not be checked`,
        body: 'They count as not checked. "Check now" tries them again.',
        keywords: [],
      }
    : null
}

function ofRows(day: string, rows: readonly Tracked[], what: string, words: (row: Tracked) => string): NewAlert | null {
  if (!rows.length) return null
  return {
    day,
    title: `${countOf(rows.length, 'keyword')} ${what}`,
    body: rows.length > mostNamed ? `The ${mostNamed} most searched are named.` : '',
    keywords: rows
      .slice(0, mostNamed)
      .map(row => ({ keywordId: row.keywordId, phrase: row.phrase, words: words(row) })),
  }
}

const positionWords = (position: number): string => (position > 0 ? String(position) : `not within ${-position}`)
const pathOf = (page: string): string => page.replace(/^[^/]*/, '') || '/'
