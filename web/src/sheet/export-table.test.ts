import ExcelJS from 'exceljs'
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
    const book = new ExcelJS.Workbook()
    await book.xlsx.load(await (await exportTable('xlsx', table)).arrayBuffer())
    const sheet = book.worksheets[0]!
    expect(sheet.getRow(1).getCell(2).value).toBe('Searches')
    expect(sheet.getRow(2).getCell(2).value).toBe(120.5)
    expect(sheet.getRow(3).getCell(1).value).toBe('=1+1')
    expect(sheet.getRow(3).getCell(2).value).toBeNull()
  })
})
