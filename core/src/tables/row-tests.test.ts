import { describe, expect, test } from 'vitest'
import { seededDraw } from '../links/seeded-draw.ts'
import type { Condition, Sort } from './column-spec.ts'
import { ColumnStore } from './column-store.ts'
import { maskRows } from './filter-rows.ts'
import { type Cell, dayOfValue, dayValue, orderedRows, rowTest, textTest } from './row-tests.ts'
import { pickRows, sortedRows } from './sort-rows.ts'

const kinds = { figure: 'number', kind: 'code', name: 'text', around: 'code', seen: 'code', odd: 'flag' } as const
type Made = {
  figure: number | null
  kind: string | null
  name: string
  around: string | null
  seen: string | null
  odd: boolean
}
function made(seed: number, count: number): Made[] {
  const draw = seededDraw(seed)
  const pick = <T>(of: readonly T[]): T => of[Math.floor(draw() * of.length)]!
  const words = ['clay', 'Wheel', 'kiln', 'glaze-kit', 'für', 'Anfänger']
  return Array.from({ length: count }, () => ({
    figure: draw() < 0.2 ? null : Math.floor(draw() * 5) - 1,
    kind: pick(['shop', 'blog', 'shop|news', null]),
    name: `${pick(words)} ${pick(words)} ${pick(words)}`,
    around: draw() < 0.2 ? null : `${pick(words)} ${pick(words)}`,
    seen: draw() < 0.2 ? null : `2026-0${1 + Math.floor(draw() * 9)}-15`,
    odd: draw() < 0.5,
  }))
}
const where: Condition[][] = [
  [{ column: 'figure', op: 'from', value: 1 }],
  [{ column: 'figure', op: 'to', value: 0 }],
  [{ column: 'figure', op: 'unknown' }],
  [{ column: 'figure', op: 'known' }],
  [{ column: 'kind', op: 'is', value: ['shop', 'blog'] }],
  [{ column: 'kind', op: 'not', value: ['shop'] }],
  [{ column: 'kind', op: 'any', value: ['news', 'blog'] }],
  [{ column: 'kind', op: 'unknown' }],
  [{ column: 'seen', op: 'from', value: 20_260_415 }],
  [{ column: 'seen', op: 'to', value: 20_260_415 }],
  [{ column: 'odd', op: 'yes' }],
  [
    { column: 'odd', op: 'no' },
    { column: 'figure', op: 'from', value: 2 },
  ],
  ...['clay', 'WHEEL kiln', '"clay wheel"', 'gl*ze', 'e-k', 'clay or anfänger', '"für *"', '', '*'].flatMap(
    (value): Condition[][] => [
      [{ column: 'name', op: 'has', value }],
      [{ column: 'name', op: 'without', value }],
      [{ column: 'around', op: 'has', value }],
      [{ column: 'around', op: 'without', value }],
    ],
  ),
]
const sorts: Sort[][] = [
  [{ column: 'figure', down: true }],
  [{ column: 'figure', down: false }],
  [
    { column: 'kind', down: true },
    { column: 'figure', down: false },
  ],
  [{ column: 'odd', down: true }],
  [{ column: 'name', down: true }],
]

describe.each([1, 2, 3])('rows are kept and ordered as in a column store, seed %i', seed => {
  const rows = made(seed, 300)
  const store = new ColumnStore(Object.entries(kinds).map(([key, kind]) => ({ key, kind })))
  const keys = Object.keys(kinds) as Array<keyof Made>
  store.upsert({ ids: rows.map((_, i) => i), columns: Object.fromEntries(keys.map(k => [k, rows.map(r => r[k])])) })
  const readers = Object.fromEntries(keys.map(key => [key, (row: number): Cell => rows[row]![key]]))
  const all = rows.map((_, i) => i)
  test.each(where)('%j %j', (...conditions) => {
    const given = conditions.filter(Boolean)
    const tests = given.map(each => rowTest(each, readers[each.column]!))
    const mask = maskRows(store, given)
    expect(all.map(row => Number(tests.every(one => one(row))))).toEqual([...mask])
  })
  test.each(sorts)('in order %j %j', (...sort) => {
    const given = sort.filter(Boolean)
    const stored = pickRows(sortedRows(store, given), new Uint8Array(rows.length).fill(1))
    expect(orderedRows(all, given, readers)).toEqual([...stored])
  })
})

test('days are compared as numbers', () => {
  expect([dayValue('2026-05-01'), dayValue('soon'), dayOfValue(20_260_501)]).toEqual([20_260_501, null, '2026-05-01'])
})
test('a text is searched like a column of texts; a limit by name is no number', () => {
  expect(textTest('Clay "potters wheel"')('The Potters Wheel of clay')).toBe(true)
  expect(textTest('clay', true)('Clay Harbour')).toBe(false)
  expect(() => rowTest({ column: 'x', op: 'within', value: 'reach' }, () => 1)).toThrow(TypeError)
})
