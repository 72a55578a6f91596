import { formulaStart } from '@dew-trail/core/tables/formula-start'
import { fileCell, mostWorkbookRows, sheetName } from '@dew-trail/core/tables/file-cells'
import type { CellValue } from '@dew-trail/core/tables/column-spec'
import Papa from 'papaparse'
import type { ExportColumn, ExportFormat } from './row-source.ts'

/** `title`: of the sheet in a workbook. */
type Table = { title: string; columns: ExportColumn[]; rows: CellValue[][] }

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
            { fields: table.columns.map(column => column.label), data: table.rows.map(row => row.map(fileCell)) },
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
      if (table.rows.length > mostWorkbookRows)
        throw new Error(
          `A workbook takes up to ${mostWorkbookRows.toLocaleString('en')} rows and these are ${table.rows.length.toLocaleString('en')}. CSV takes any number, and so does a condition.`,
        )
      // Only loaded when somebody wants a workbook.
      const { default: writeXlsxFile } = await import('write-excel-file/universal')
      const header = table.columns.map(column => ({ value: column.label, fontWeight: 'bold' as const }))
      const data = table.rows.map(row =>
        row.map(value => {
          const plain = fileCell(value)
          return plain === '' ? null : { value: plain, type: typeof plain === 'number' ? Number : String }
        }),
      )
      return writeXlsxFile([header, ...data], { sheet: sheetName(table.title), stickyRowsCount: 1 }).toBlob()
    }
  }
}

const named = ({ columns }: Table, row: CellValue[]): Record<string, CellValue> =>
  Object.fromEntries(columns.map((column, i) => [column.key, row[i] ?? null]))
