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
import { keywordVisibility } from '@dew-trail/core/positions/keyword-visibility'
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
  const all = (value: number): number[] => rows.map(() => value)
  const batch = trackBatch(
    {
      rows,
      lastDay: '2026-11-27',
      others: [
        { marketId: 2, now: all(4), before: all(6) },
        { marketId: 3, now: all(-100), before: all(0) },
      ],
      rivals: [{ domain: 'clay.example', now: [1, 2, -20, 4, 0, 6], before: [2, 2, 8, -20, 5, 6] }],
    },
    markets,
    markets[0]!,
  )
  test('not found is unknown as a number and kept apart as a value', () => {
    expect(batch.columns.now).toEqual([4, 30, 8, null, 5, 5])
    expect(batch.columns.nowValue).toEqual([4, 30, 8, -100, 5, 5])
    expect(batch.columns.market2).toEqual(new Array(6).fill(4))
    expect(batch.columns.market3).toEqual(new Array(6).fill(null))
  })
  test('other markets and rivals have their change, the keyword a visibility over all markets', () => {
    expect(batch.columns.market2Gained).toEqual(all(2))
    expect(batch.columns.market3Gained).toEqual(all(null as unknown as number))
    expect(batch.columns.rival_clay__example).toEqual([1, 2, null, 4, null, 6])
    expect(batch.columns.rival_clay__exampleGained).toEqual([1, 0, -13, 17, null, 0])
    const part = trackBatch(
      { rows, lastDay: null, others: [{ marketId: 2, now: [1, 2, 3, 4, 5, 6], before: all(0) }], rivals: [] },
      markets,
      markets[0]!,
      [2, 4],
    )
    expect(part.columns.market2).toEqual([3, 4])
    const [first] = batch.columns.visible as number[]
    const one = keywordVisibility([
      { now: 4, before: 12, device: 'desktop' },
      { now: 4, before: 6, device: 'mobile' },
      { now: -100, before: 0, device: 'desktop' },
    ])
    expect(first).toBe(one.now)
    expect((batch.columns.visibleGained as number[])[0]).toBe(one.change)
    expect(one.change).toBeGreaterThan(0)
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
    const store = new ColumnStore(trackSpecs(markets, ['clay.example']))
    store.upsert(batch)
    expect(store.count).toBe(6)
    for (const column of trackColumns(markets[0]!, markets, ['clay.example'])) {
      expect(store.columns.has(column.key)).toBe(true)
      // Its width is a variable of CSS by that name.
      expect(column.key).toMatch(/^[\w-]+$/)
    }
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
