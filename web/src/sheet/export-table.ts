import { formulaStart } from '@dew-trail/core/tables/formula-start'
import type { CellValue } from '@dew-trail/core/tables/column-spec'
import Papa from 'papaparse'
import type { ExportFormat } from './row-source.ts'

type Table = { columns: Array<{ key: string; label: string }>; rows: CellValue[][] }

/** A table as a file. CSV and TSV have the column labels, JSON the columns' keys; unknown is an empty cell, in JSON `null`. */
export async function exportTable(format: ExportFormat, table: Table): Promise<Blob> {
  switch (format) {
    case 'csv':
    case 'tsv':
      // The mark at the front tells spreadsheets that this is UTF-8; formulas are made harmless.
      return new Blob(
        [
          format === 'csv' ? '\ufeff' : '',
          Papa.unparse(
            { fields: table.columns.map(column => column.label), data: table.rows.map(row => row.map(plainCell)) },
            { escapeFormulae: formulaStart, delimiter: format === 'csv' ? ',' : '\t' },
          ),
        ],
        { type: `text/${format === 'csv' ? 'csv' : 'tab-separated-values'};charset=utf-8` },
      )
    case 'json':
      return new Blob(
        [
          JSON.stringify(
            table.rows.map(row => named(table, row)),
            null,
            1,
          ),
        ],
        { type: 'application/json' },
      )
    case 'jsonl':
      return new Blob([table.rows.map(row => `${JSON.stringify(named(table, row))}\n`).join('')], {
        type: 'application/jsonl',
      })
    case 'xlsx': {
      // Only loaded when somebody wants a workbook.
      const { default: writeXlsxFile } = await import('write-excel-file/universal')
      const header = table.columns.map(column => ({ value: column.label, fontWeight: 'bold' as const }))
      const data = table.rows.map(row =>
        row.map(value => {
          const plain = plainCell(value)
          return plain === '' ? null : { value: plain, type: typeof plain === 'number' ? Number : String }
        }),
      )
      return writeXlsxFile([header, ...data]).toBlob()
    }
  }
}

const named = ({ columns }: Table, row: CellValue[]): Record<string, CellValue> =>
  Object.fromEntries(columns.map((column, i) => [column.key, row[i] ?? null]))

const plainCell = (value: CellValue): string | number =>
  value === null
    ? ''
    : Array.isArray(value)
      ? value.map(item => item ?? '').join(' ')
      : value === true
        ? 'yes'
        : value === false
          ? 'no'
          : (value as string | number)
