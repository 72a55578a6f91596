import { AppError } from '@dew-trail/contract/errors'
import type { TableQuery } from '@dew-trail/contract/tables'
import { type CellValue, resolveLimits } from '@dew-trail/core/tables/column-spec'
import { ColumnStore } from '@dew-trail/core/tables/column-store'
import { fileCell, mostWorkbookRows, sheetName } from '@dew-trail/core/tables/file-cells'
import { maskRows } from '@dew-trail/core/tables/filter-rows'
import { formulaStart } from '@dew-trail/core/tables/formula-start'
import { pickRows, sortedRows } from '@dew-trail/core/tables/sort-rows'
import Papa from 'papaparse'
import writeXlsxFile from 'write-excel-file/node'
import type { OpenTable } from './table.ts'

const rowsAtATime = 2_000

type Wanted = { columns: ReadonlyArray<{ key: string; label: string }>; store: ColumnStore; rows: Uint32Array }

/** A table in a format, piece by piece. Throws `badInput` for columns that are not there, and for workbooks that would be too large. */
export async function writeTable(table: OpenTable, query: TableQuery): Promise<AsyncIterable<string | Buffer>> {
  const wanted = await readWanted(table, query)
  if (query.format !== 'xlsx') return textOf(wanted, query.format)
  if (wanted.rows.length > mostWorkbookRows)
    throw new AppError(
      'badInput',
      `A workbook takes up to ${mostWorkbookRows.toLocaleString('en')} rows and these are ${wanted.rows.length.toLocaleString('en')}. CSV takes any number.`,
    )
  return workbookOf(wanted, table.title)
}

/** Cells of a table's first rows, with how many there are of its conditions. Without columns all that hold no series. */
export async function tableCells(
  table: OpenTable,
  { columns, where, sort }: { columns: readonly string[] } & Pick<TableQuery, 'where' | 'sort'>,
  most: number,
): Promise<{ head: string[]; rows: CellValue[][]; of: number }> {
  const keys = columns.length
    ? [...columns]
    : table.columns.filter(each => each.kind !== 'series').map(each => each.key)
  const wanted = await readWanted(table, { columns: keys, where, sort })
  return {
    head: wanted.columns.map(column => column.label),
    rows: Array.from(wanted.rows.subarray(0, most), row => cellsOf(wanted, row)),
    of: wanted.rows.length,
  }
}

/** Holds only the columns that are asked for, or used by conditions and order, so that a large table stays small. */
async function readWanted(table: OpenTable, query: Pick<TableQuery, 'columns' | 'where' | 'sort'>): Promise<Wanted> {
  const chosen = query.columns
    ? query.columns.map(key => {
        const column = table.columns.find(each => each.key === key)
        if (!column) throw new AppError('badInput', `columns: the table has no column "${key}"`)
        return column
      })
    : table.columns
  const columns = chosen.flatMap(column => column.exports ?? [{ key: column.key, label: column.label }])
  const where = [...(table.always ?? []), ...resolveLimits(query.where, table.limits ?? {})]
  const used = new Set([...columns, ...query.sort.map(each => ({ key: each.column }))].map(each => each.key))
  for (const { column } of where) used.add(column)
  for (const key of used)
    if (!table.specs.some(spec => spec.key === key))
      throw new AppError('badInput', `the table has no column "${key}" for conditions or order`)
  const store = new ColumnStore(table.specs.filter(spec => used.has(spec.key)))
  for await (const { ids, columns: lists, same = {} } of table.batches())
    store.upsert({ ids, columns: only(lists, used), same: only(same, used) })
  return { columns, store, rows: pickRows(sortedRows(store, query.sort), maskRows(store, where)) }
}

const only = <Value>(values: Record<string, Value>, keys: ReadonlySet<string>): Record<string, Value> =>
  Object.fromEntries(Object.entries(values).filter(([key]) => keys.has(key)))

const cellsOf = ({ columns, store }: Wanted, row: number): CellValue[] => columns.map(({ key }) => store.cell(row, key))

/** The mark at the front tells spreadsheets that it is UTF-8; formulas are made harmless. */
async function* textOf(wanted: Wanted, format: 'csv' | 'jsonl'): AsyncGenerator<string> {
  const { columns, rows } = wanted
  const csv = (lines: unknown[][]): string => `${Papa.unparse(lines, { escapeFormulae: formulaStart })}\r\n`
  if (format === 'csv') yield `\ufeff${csv([columns.map(column => column.label)])}`
  for (let from = 0; from < rows.length; from += rowsAtATime) {
    const part = Array.from(rows.subarray(from, from + rowsAtATime), row => cellsOf(wanted, row))
    yield format === 'csv'
      ? csv(part.map(cells => cells.map(fileCell)))
      : part
          .map(cells => `${JSON.stringify(Object.fromEntries(columns.map(({ key }, i) => [key, cells[i] ?? null])))}\n`)
          .join('')
  }
}

async function* workbookOf(wanted: Wanted, title: string): AsyncGenerator<Buffer> {
  const header = wanted.columns.map(column => ({ value: column.label, fontWeight: 'bold' as const }))
  const data = Array.from(wanted.rows, row =>
    cellsOf(wanted, row).map(value => {
      const plain = fileCell(value)
      return plain === '' ? null : { value: plain, type: typeof plain === 'number' ? Number : String }
    }),
  )
  yield await writeXlsxFile([header, ...data], { sheet: sheetName(title), stickyRowsCount: 1 }).toBuffer()
}
