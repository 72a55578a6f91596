import type { NoteEffect, readEffect } from '@dew-trail/contract/track-changes'
import { daysBefore, effectOfChange } from '@dew-trail/core/positions/effect-of-change'
import { effectSentence } from '@dew-trail/core/positions/effect-sentence'
import { figureParts } from '@dew-trail/core/demand/shared-figures'
import type pg from 'pg'
import type { z } from 'zod'
import { manyOrganicShares } from '../../domain/chances/queries.ts'
import { type VisitReader, visitReader } from '../../domain/chances/visits-of.ts'
import { oneNote } from '../../domain/notes/queries.ts'
import { shiftDay } from '../../domain/positions/day-reader.ts'
import { positionSeries } from '../../domain/positions/position-series.ts'
import { maybeLastDay } from '../../domain/positions/day-queries.ts'
import { manySlots, type SlotRow } from '../../domain/positions/slot-queries.ts'
import { needMarket } from '../../domain/sites/need-market.ts'
import { touchedKeywords } from './touched-keywords.ts'

/** Days after a change that are read: a week in which it comes in and four that are compared. */
const daysAfter = 35
type Effect = z.output<(typeof readEffect)['output']>

/** The effect of what a note tells of on the keywords it touches, in positions and visits of a market, by checks up to `until` where that is given. */
export async function readNoteEffect(
  pool: pg.Pool,
  siteId: number,
  noteId: number,
  marketId: number,
  until?: string,
): Promise<Effect> {
  const market = await needMarket(pool, siteId, marketId)
  const note = await oneNote(pool, siteId, noteId)
  const tracked = await manySlots(pool, siteId, market)
  const touched = await touchedKeywords(
    pool,
    siteId,
    marketId,
    note,
    new Map(tracked.map(row => [row.slot, row.keywordId])),
  )
  if (touched === null) return withSentence({ kind: 'wholeSite' })
  const last = await maybeLastDay(pool, siteId, marketId, until)
  const from = shiftDay(note.day, -daysBefore)
  const end = shiftDay(note.day, daysAfter)
  const to = last && last.day < end ? last.day : end
  const slots = tracked.map(row => row.slot)
  const { of } = await positionSeries(pool, siteId, marketId, slots, from, to)
  const ofKeywords = (isTouched: boolean) =>
    tracked
      .filter(row => touched.has(row.keywordId) === isTouched)
      .map(row => ({ id: row.keywordId, days: of.get(row.slot)! }))
  const effect = effectOfChange(ofKeywords(true), ofKeywords(false), daysBefore)
  if (effect.kind !== 'known') return withSentence(effect)
  const [reader, organic] = await Promise.all([
    visitReader(pool, siteId, market),
    manyOrganicShares(pool, siteId, marketId),
  ])
  const rows = tracked.filter(row => touched.has(row.keywordId) && row.searches !== null)
  const visits = rows.length ? visitsOf(rows, effect, reader, organic) : null
  return withSentence({ ...effect, visits })
}

/** Visits at the position the touched keywords have after the change, less those at the one they would have without it. */
function visitsOf(
  rows: readonly SlotRow[],
  { after, positions, low, high }: { after: number; positions: number; low: number; high: number },
  reader: VisitReader,
  organic: ReadonlyMap<number, number>,
): { value: number; low: number; high: number } {
  const parts = figureParts(rows)
  const at = (position: number): number =>
    rows.reduce((sum, row, i) => {
      const [brand, share] = [reader.brandOf(row.phrase) !== null, organic.get(row.keywordId) ?? null]
      const of = (position: number): number => reader.visitsAt(Math.max(1, position), row.searches, share, brand) ?? 0
      // Between two positions by the line between them.
      const [floor, rest] = [Math.floor(position), position - Math.floor(position)]
      return sum + parts[i]! * (of(floor) * (1 - rest) + of(floor + 1) * rest)
    }, 0)
  const now = at(after)
  const [value, least, most] = [positions, low, high].map(gained => now - at(after + gained))
  return { value: value!, low: least!, high: most! }
}

const withSentence = (effect: NoteEffect): Effect => ({ effect, sentence: effectSentence(effect) })
