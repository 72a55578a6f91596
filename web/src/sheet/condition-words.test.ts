import { expect, test } from 'vitest'
import type { SheetColumn } from './columns.ts'
import { conditionsLine } from './condition-words.ts'

const columns = [
  { key: 'searches', label: 'Searches', kind: 'number' },
  { key: 'phrase', label: 'Keyword', kind: 'text' },
  { key: 'gatherings', label: 'Gathering', kind: 'code', values: [{ value: '3', label: 'kiln' }] },
  { key: 'lands', label: 'Lands on', kind: 'code' },
  { key: 'firstSeen', label: 'Since', kind: 'code', unit: 'day' },
  { key: 'kept', label: 'kept', kind: 'flag' },
] as unknown as SheetColumn[]

test('conditions are said in words, values by their names; of unknown columns nothing', () => {
  expect(
    conditionsLine(
      [
        { column: 'searches', op: 'from', value: 1_000 },
        { column: 'phrase', op: 'has', value: 'raku' },
        { column: 'gatherings', op: 'any', value: ['3', '9'] },
        { column: 'kept', op: 'no' },
        { column: 'gone', op: 'known' },
        { column: 'lands', op: 'has', value: '/guides' },
        { column: 'firstSeen', op: 'from', value: 20_260_501 },
      ],
      columns,
    ),
  ).toBe(
    'Searches ≥ 1,000; Contains raku; Gathering kiln or 9; not kept; Lands on contains /guides; Since on or after May 1, 2026',
  )
  expect(conditionsLine([], columns)).toBe('')
})
