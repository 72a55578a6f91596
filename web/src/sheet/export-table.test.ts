import readXlsxFile from 'read-excel-file/node'
import { describe, expect, test } from 'vitest'
import { exportTable } from './export-table.ts'

const table = {
  columns: [
    { key: 'phrase', label: 'Keyword' },
    { key: 'searches', label: 'Searches' },
    { key: 'months', label: '12 months' },
    { key: 'kept', label: 'kept' },
  ],
  rows: [
    ['kiln, "small"', 120.5, [1, null, 3], true],
    ['=1+1', null, null, false],
  ] as Array<Array<string | number | boolean | null | Array<number | null>>>,
}

describe('a table as a file', () => {
  test('CSV and TSV have labels, empty cells for unknown, and harmless formulas', async () => {
    expect(await (await exportTable('csv', table)).text()).toBe(
      'Keyword,Searches,12 months,kept\r\n"kiln, ""small""",120.5,1  3,yes\r\n"\'=1+1",,,no',
    )
    expect((await (await exportTable('tsv', table)).text()).split('\r\n')[0]).toBe('Keyword\tSearches\t12 months\tkept')
  })
  test('JSON has keys and null for unknown; JSON Lines one row a line', async () => {
    const rows = JSON.parse(await (await exportTable('json', table)).text())
    expect(rows[1]).toEqual({ phrase: '=1+1', searches: null, months: null, kept: false })
    const lines = (await (await exportTable('jsonl', table)).text()).trim().split('\n')
    expect(lines.map(line => JSON.parse(line))).toEqual(rows)
  })
  test('a workbook opens with numbers as numbers and formulas as text', async () => {
    const [sheet] = await readXlsxFile(Buffer.from(await (await exportTable('xlsx', table)).arrayBuffer()))
    expect(sheet!.data).toEqual([
      ['Keyword', 'Searches', '12 months', 'kept'],
      ['kiln, "small"', 120.5, '1  3', 'yes'],
      ['=1+1', null, null, 'no'],
    ])
  })
})
