import type { FirstPage } from '@dew-trail/contract/weigh'
import { describe, expect, test } from 'vitest'
import type { Row } from '../rows/row-source.ts'
import { madeResult } from '../../test/made-result.ts'
import { resultLines } from './export-results.ts'

const result = (position: number) =>
  madeResult(position, {
    level: 40 + position,
    siteLevel: position === 2 ? null : 50,
    siteLinkingSites: 12,
    siteReach: { keywords: 3, visits: null, unknown: 3 },
    ageYears: 3.5,
    fit: 0.75,
    opening: position === 2,
  })
const page = { keywordId: 1, fetchedOn: '2026-11-20', results: [result(1), result(2)] } as unknown as FirstPage
const columns = [
  { key: 'phrase', label: 'Keyword' },
  { key: 'searches', label: 'Searches' },
]
const rows = [
  { id: 1, phrase: 'home kiln', searches: 90 },
  { id: 2, phrase: 'studio kiln', searches: null },
] as unknown as Row[]

describe('a table with the first pages', () => {
  const table = resultLines(columns, rows, new Map([[1, page]]))
  const at = (line: number, key: string) => table.rows[line]![table.columns.findIndex(column => column.key === key)]
  test('has a line for every result, the keyword before it', () => {
    expect(table.rows).toHaveLength(3)
    expect(table.rows.every(line => line.length === table.columns.length)).toBe(true)
    expect([at(0, 'phrase'), at(0, 'result_position'), at(1, 'phrase'), at(1, 'result_position')]).toEqual([
      'home kiln',
      1,
      'home kiln',
      2,
    ])
    expect(at(1, 'result_opening')).toBe(true)
    expect(at(0, 'result_firstPageOn')).toBe('2026-11-20')
  })
  test('a keyword without a first page keeps its line, and what is unknown stays empty', () => {
    expect([at(2, 'phrase'), at(2, 'searches'), at(2, 'result_url')]).toEqual(['studio kiln', null, null])
    expect([at(1, 'result_siteLevel'), at(0, 'result_links')]).toEqual([null, null])
  })
})
