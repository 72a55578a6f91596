import type { TrackedRow } from '@dew-trail/contract/track'
import { ColumnStore } from '@dew-trail/core/tables/column-store'
import { describe, expect, test } from 'vitest'
import { monthsBefore } from './pictures/MonthBars.tsx'
import { formatMarket, formatTimeLeft, plural } from './ui/format.ts'
import { gatherColumns, weighColumns } from './keywords/keyword-columns.tsx'
import { madePage } from '../test/made-page.ts'
import { planBatch, planSpecs } from '@dew-trail/contract/plan-table'
import { planColumns } from './features/plan/plan-columns.tsx'
import { nextSort } from './sheet/SheetHead.tsx'
import { madeRow } from '../test/made-row.ts'
import { trackBatch, trackSpecs } from '@dew-trail/contract/track-table'
import { trackColumns } from './features/track/track-columns.tsx'

describe('sorting by a header', () => {
  test('down, up, off', () => {
    expect(nextSort([], 'a', false)).toEqual([{ column: 'a', down: true }])
    expect(nextSort([{ column: 'a', down: true }], 'a', false)).toEqual([{ column: 'a', down: false }])
    expect(nextSort([{ column: 'a', down: false }], 'a', false)).toEqual([])
  })
  test('with Shift a column joins, turns and leaves the others be', () => {
    const one = nextSort([{ column: 'a', down: true }], 'b', true)
    expect(one).toEqual([
      { column: 'a', down: true },
      { column: 'b', down: true },
    ])
    expect(nextSort(one, 'a', true)).toEqual([
      { column: 'a', down: false },
      { column: 'b', down: true },
    ])
    expect(
      nextSort(
        [
          { column: 'a', down: false },
          { column: 'b', down: true },
        ],
        'a',
        true,
      ),
    ).toEqual([{ column: 'b', down: true }])
    expect(nextSort(one, 'c', false)).toEqual([{ column: 'c', down: true }])
  })
})

const markets = [
  { id: 1, engine: 'lantern', place: 'tarrow', language: 'en', device: 'desktop' as const, name: null, paused: false },
  { id: 2, engine: 'lantern', place: 'tarrow', language: 'en', device: 'mobile' as const, name: null, paused: false },
  { id: 3, engine: 'plover', place: 'tarrow', language: 'en', device: 'desktop' as const, name: null, paused: false },
]
const tracked = (id: number, before: number, now: number, more: Partial<TrackedRow> = {}): TrackedRow =>
  madeRow(id, `p ${id}`, {
    searches: 10,
    now,
    before,
    nowDay: '2026-11-27',
    best: now,
    other: { '2': 4, '3': -100 },
    page: 'https://x.example/a',
    pageBefore: 'https://x.example/a',
    ...more,
  })

describe('rows of Track', () => {
  const rows = [
    tracked(1, 12, 4),
    tracked(2, 3, 30),
    tracked(3, -100, 8),
    tracked(4, 9, -100),
    tracked(5, 0, 5),
    tracked(6, 5, 5, { page: 'https://x.example/b' }),
  ]
  const batch = trackBatch(rows, markets, '2026-11-27')
  test('not found is unknown as a number and kept apart as a value', () => {
    expect(batch.columns.now).toEqual([4, 30, 8, null, 5, 5])
    expect(batch.columns.nowValue).toEqual([4, 30, 8, -100, 5, 5])
    expect(batch.columns.market2).toEqual(new Array(6).fill(4))
    expect(batch.columns.market3).toEqual(new Array(6).fill(null))
  })
  test('changes and what stands out', () => {
    expect(batch.columns.change).toEqual(['up', 'down', 'new', 'out', 'unknown', 'same'])
    expect(batch.columns.gained).toEqual([8, -27, 93, -92, null, 0])
    expect(batch.columns.note).toEqual([
      'entered top 10',
      'left top 10',
      'entered top 10',
      'left top 10',
      null,
      'page changed',
    ])
  })
  test('every column has its data and the store takes them', () => {
    const store = new ColumnStore(trackSpecs(markets))
    store.upsert(batch)
    expect(store.count).toBe(6)
    for (const column of trackColumns(markets[0]!, markets)) expect(store.columns.has(column.key)).toBe(true)
  })
})

test('rows of Plan fit their columns', () => {
  const page = madePage({ id: 3, title: 'Kilns', searchesUnknown: 1, visitsUnknown: 1 })
  const store = new ColumnStore(planSpecs)
  store.upsert(planBatch([page]))
  expect(store.row(0)).toMatchObject({ id: 3, title: 'Kilns', searches: null, lead: null, keywords: 0 })
  for (const column of planColumns) expect(store.columns.has(column.key)).toBe(true)
})

test('every keyword column explains itself, and none is there twice', () => {
  for (const columns of [gatherColumns, weighColumns]) {
    expect(new Set(columns.map(column => column.key)).size).toBe(columns.length)
    for (const column of columns) expect(column.explain.length).toBeGreaterThan(8)
  }
})

test('words for counts, times, months and markets', () => {
  expect(plural(1, 'page')).toBe('1 page')
  expect(plural(0, 'page')).toBe('0 pages')
  expect([40, 89, 90, 3_600, 4_000, 6_000].map(formatTimeLeft)).toEqual([
    '40 s',
    '89 s',
    '2 min',
    '60 min',
    '67 min',
    '1 h 40 min',
  ])
  expect(monthsBefore('2026-01', 1)).toBe('2025-12')
  expect(monthsBefore('2026-11', 11)).toBe('2025-12')
  expect(formatMarket(markets[0]!)).toBe('Lantern · Tarrow · English · desktop')
})
