import type { Market } from '@dew-trail/contract/sites'
import type { Shift } from '@dew-trail/contract/track-changes'
import { gainedAround } from '@dew-trail/core/positions/gained-around'
import type { Evidence } from '@dew-trail/core/positions/likely-reason'
import { featuresOf, pageFeatureNames } from '@dew-trail/core/positions/page-features'
import { type PageFrom, pageSwaps } from '@dew-trail/core/positions/page-swaps'
import { usualChange } from '@dew-trail/core/positions/usual-change'
import { decodeMonth } from '@dew-trail/core/results/month-results'
import { pageIdentity } from '@dew-trail/core/web/page-identity'
import type pg from 'pg'
import { manyNotes } from '../../domain/notes/queries.ts'
import { shiftDay } from '../../domain/positions/day-reader.ts'
import { dayAt, type PositionSeries } from '../../domain/positions/position-series.ts'
import {
  manyFeatureChanges,
  manyFeaturesOn,
  manyPageChanges,
  manyPagesOn,
} from '../../domain/positions/found-queries.ts'
import type { SlotRow } from '../../domain/positions/slot-queries.ts'
import type { SiteRow } from '../../domain/sites/queries.ts'
import { manyAddresses, manyLinkChanges, manyResultMonths } from './change-queries.ts'
import { touchedKeywords } from './touched-keywords.ts'

/** A change comes in over so many days. */
const comesIn = 7
/** Two own pages within so many results fight for a keyword. */
const competingWithin = 20
const mostRivalPages = 5

type Row = SlotRow & { days: Int16Array; now: number; before: number }
type Looked = {
  site: SiteRow
  market: Market
  since: string
  day: string
  series: PositionSeries
  /** All compared keywords, and those whose evidence is asked for. */
  rows: readonly Row[]
  looked: readonly Row[]
  shifts: readonly Shift[]
}
type Found = { page: string | null; pieces: Evidence[] }

/** Reads what could have moved keywords of a market since a day, and gives what speaks for each reason for one of them. */
export async function evidenceReader(pool: pg.Pool, of: Looked): Promise<(row: Row) => Found> {
  const readers = await Promise.all([
    shiftEvidence(of),
    noteEvidence(pool, of),
    featureEvidence(pool, of),
    resultEvidence(pool, of),
  ])
  const pages = await pageReader(pool, of)
  const links = await linkEvidence(pool, of)
  return row => {
    const { page, swaps } = pages(row)
    return { page, pieces: [...readers.flatMap(read => read(row)), ...swaps, ...links(page)] }
  }
}

type Reader = (row: Row) => Evidence[]

function shiftEvidence({ series, rows, shifts }: Looked): Reader {
  const from = series.days[0]!
  const ofShift = shifts.map(({ day }) => {
    const at = dayAt(from, day)
    let [known, beyond] = [0, 0]
    for (const { days } of rows) {
      const gained = gainedAround(days, at)
      const usual = usualChange(days.subarray(0, at))
      if (gained === null || usual === null) continue
      known++
      if (Math.abs(gained) > usual) beyond++
    }
    return { day, at, extent: known ? beyond / known : 0 }
  })
  return ({ days }) =>
    ofShift.map(({ day, at, extent }) => ({ kind: 'shift', day, around: gainedAround(days, at), extent }))
}

async function noteEvidence(pool: pg.Pool, { site, market, since, day, series, rows }: Looked): Promise<Reader> {
  const from = series.days[0]!
  const slots = new Map(rows.map(row => [row.slot, row.keywordId]))
  const notes = (await manyNotes(pool, site.id)).filter(
    note =>
      note.day > shiftDay(since, -comesIn) &&
      note.day <= day &&
      (note.touches.marketId === undefined || note.touches.marketId === market.id),
  )
  const ofNotes: Array<{
    touches(id: number): boolean
    at: number
    day: string
    text: string
    means: [number, number]
  }> = []
  for (const note of notes) {
    const touched = await touchedKeywords(pool, site.id, market.id, note, slots)
    const at = dayAt(from, note.day)
    const gains: [number[], number[]] = [[], []]
    for (const row of rows) {
      const gained = gainedAround(row.days, at, comesIn)
      if (gained !== null) gains[touched === null || touched.has(row.keywordId) ? 0 : 1].push(gained)
    }
    ofNotes.push({
      touches: id => touched === null || touched.has(id),
      at,
      day: note.day,
      text: note.text,
      means: [meanOr0(gains[0]), meanOr0(gains[1])],
    })
  }
  return row =>
    ofNotes
      .filter(note => note.touches(row.keywordId))
      .map(({ at, day: on, text, means: [touched, others] }) => ({
        kind: 'ownChange',
        day: on,
        around: gainedAround(row.days, at, comesIn),
        text,
        touched,
        others,
      }))
}
const meanOr0 = (values: readonly number[]): number =>
  values.length ? values.reduce((sum, each) => sum + each, 0) / values.length : 0

async function featureEvidence(pool: pg.Pool, { site, market, since, day, series }: Looked): Promise<Reader> {
  const from = series.days[0]!
  const before = new Map((await manyFeaturesOn(pool, site.id, market.id, since)).map(row => [row.slot, row.shown]))
  const bySlot = new Map<number, Array<{ day: string; came: number; went: number }>>()
  for (const row of await manyFeatureChanges(pool, site.id, market.id, since, day)) {
    const last = before.get(row.slot)
    before.set(row.slot, row.shown)
    if (last === undefined) continue
    const list = bySlot.get(row.slot) ?? []
    bySlot.set(row.slot, list)
    list.push({ day: row.day, came: row.shown & ~last, went: last & ~row.shown })
  }
  return ({ slot, days }) =>
    (bySlot.get(slot) ?? []).flatMap(({ day: on, came, went }) =>
      (
        [
          [came, true],
          [went, false],
        ] as const
      )
        .filter(([bits]) => bits)
        .map(
          ([bits, isCome]): Evidence => ({
            kind: 'feature',
            day: on,
            around: gainedAround(days, dayAt(from, on)),
            names: featuresOf(bits).map(feature => pageFeatureNames[feature]),
            came: isCome,
          }),
        ),
    )
}

/** Pages of others that came or went above the own one, and own pages that fight each other, by the kept result pages. */
async function resultEvidence(pool: pg.Pool, { site, market, since, day, looked }: Looked): Promise<Reader> {
  const ids = looked.map(row => row.keywordId)
  const months = await manyResultMonths(pool, site.id, market.id, ids, shiftDay(since, -31))
  const byKeyword = new Map<number, { before: readonly number[]; now: readonly number[] }>()
  for (const { keywordId, month, days } of months) {
    const known = byKeyword.get(keywordId) ?? { before: [], now: [] }
    byKeyword.set(keywordId, known)
    for (const each of decodeMonth(days)) {
      const on = `${month.slice(0, 8)}${String(each.day).padStart(2, '0')}`
      if (on <= since) known.before = each.pages
      else if (on <= day) known.now = each.pages
    }
  }
  const numbers = new Set([...byKeyword.values()].flatMap(({ before, now }) => [...before, ...now]))
  const addresses = await manyAddresses(pool, site.id, [...numbers])
  const isOwn = (page: number): boolean => addresses.get(page)?.domain === site.domain
  return ({ keywordId }) => {
    const known = byKeyword.get(keywordId)
    if (!known?.now.length) return []
    const { before, now } = known
    const own = now.slice(0, competingWithin).filter(isOwn)
    const pieces: Evidence[] =
      own.length > 1 ? [{ kind: 'competing', pages: [addresses.get(own[0]!)!.url, addresses.get(own[1]!)!.url] }] : []
    if (!before.length) return pieces
    const above = (list: readonly number[], others: readonly number[]) => {
      const end = list.findIndex(isOwn)
      return list.slice(0, end < 0 ? competingWithin : end).flatMap((page, i) => {
        const known = addresses.get(page)
        return known && !others.includes(page) ? [{ domain: known.domain, url: known.url, position: i + 1 }] : []
      })
    }
    for (const came of [true, false]) {
      const pages = came ? above(now, before) : above(before, now)
      if (pages.length) pieces.push({ kind: 'rivalPage', pages: pages.slice(0, mostRivalPages), came })
    }
    return pieces
  }
}

/** The page that is found for a keyword now, and lasting swaps since the day. */
async function pageReader(pool: pg.Pool, { site, market, since, day, series }: Looked) {
  const from = series.days[0]!
  const bySlot = new Map<number, PageFrom[]>()
  const urlOf = new Map<string, string>()
  const add = (slot: number, on: string, url: string | null): void => {
    const page = url === null ? null : (pageIdentity(url) ?? url)
    if (page !== null && url !== null) urlOf.set(page, url)
    const list = bySlot.get(slot)
    if (list) list.push({ day: on, page })
    else bySlot.set(slot, [{ day: on, page }])
  }
  for (const row of await manyPagesOn(pool, site.id, market.id, from)) add(row.slot, from, row.url)
  for (const row of await manyPageChanges(pool, site.id, market.id, from, day)) add(row.slot, row.day, row.url)
  return ({ slot, days }: Row): { page: string | null; swaps: Evidence[] } => {
    const pages = bySlot.get(slot) ?? []
    const now = pages.findLast(each => each.page !== null)?.page ?? null
    const swaps = pageSwaps(pages, day)
      .filter(swap => swap.day > since)
      .map(
        (swap): Evidence => ({
          kind: 'swap',
          day: swap.day,
          around: gainedAround(days, dayAt(from, swap.day)),
          from: urlOf.get(swap.from)!,
          to: urlOf.get(swap.to)!,
        }),
      )
    return { page: now === null ? null : urlOf.get(now)!, swaps }
  }
}

async function linkEvidence(pool: pg.Pool, { site, since, day }: Looked): Promise<(page: string | null) => Evidence[]> {
  const byPage = new Map<string, { gained: number; lost: number }>()
  const all = { gained: 0, lost: 0 }
  for (const { url, gained, lost } of await manyLinkChanges(pool, site.domain, since, day)) {
    const page = pageIdentity(url) ?? url
    const known = byPage.get(page) ?? { gained: 0, lost: 0 }
    byPage.set(page, known)
    for (const sum of [known, all]) {
      sum.gained += gained
      sum.lost += lost
    }
  }
  return page => {
    const ofPage = page === null ? undefined : byPage.get(pageIdentity(page) ?? page)
    if (ofPage) return [{ kind: 'links', ...ofPage, ofPage: true }]
    return all.gained || all.lost ? [{ kind: 'links', ...all, ofPage: false }] : []
  }
}
