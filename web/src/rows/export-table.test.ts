import readXlsxFile from 'read-excel-file/node'
import { describe, expect, test } from 'vitest'
import { exportTable } from './export-table.ts'

const table = {
  title: 'Words: [all]',
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
  test('figures have no more digits than they are told with, and the sheet has a name that workbooks take', async () => {
    const figures = {
      ...table,
      columns: [{ key: 'n', label: 'N' }],
      rows: [[3497.840354712936], [0.123456], [1.23456], [1_300], [-250.4], [0]],
    }
    const [sheet] = await readXlsxFile(Buffer.from(await (await exportTable('xlsx', figures)).arrayBuffer()))
    expect(sheet!.sheet).toBe('Words all')
    expect(sheet!.data.flat()).toEqual(['N', 3497.8, 0.1235, 1.23, 1300, -250.4, 0])
    expect((await (await exportTable('csv', figures)).text()).split('\r\n')).toEqual([
      'N',
      '3497.8',
      '0.1235',
      '1.23',
      '1300',
      '-250.4',
      '0',
    ])
  })
  test('cells that a spreadsheet could take for formulas are made harmless', async () => {
    const cells = ['=1', ' =1', '\n=1', '\uff1d1', '+1', '-1 x', '@a', '\t1']
    const text = await (
      await exportTable('tsv', { ...table, columns: [{ key: 'n', label: 'N' }], rows: cells.map(cell => [cell]) })
    ).text()
    expect(
      text
        .split('\r\n')
        .slice(1)
        .map(line => line.replace(/^"/, '')[0]),
    ).toEqual(cells.map(() => "'"))
  })
  test('a workbook of 30,000 rows is whole', async () => {
    const many = Array.from({ length: 30_000 }, (_, i) => [`keyword number ${i}`, i, [i, null], i % 2 === 0])
    const [sheet] = await readXlsxFile(
      Buffer.from(await (await exportTable('xlsx', { ...table, rows: many })).arrayBuffer()),
    )
    expect(sheet!.data).toHaveLength(30_001)
    expect(sheet!.data.at(-1)!.slice(0, 2)).toEqual(['keyword number 29999', 29_999])
  })
})
