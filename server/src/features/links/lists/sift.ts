import { AppError } from '@dew-trail/contract/errors'
import type { Batch, ColumnSpec, Condition, Sort } from '@dew-trail/core/tables/column-spec'
import { type Cell, orderedRows, type ReadsCell, rowTest } from '@dew-trail/core/tables/row-tests'
import type { Wanted } from './link-scope.ts'

/** Links to which target, and which of them count. */
export type Of = Wanted & { target: string }
/** `total`: rows in all; `met`: those of them that meet the conditions, of which the first are here. */
export type Listed<Row> = { rows: Row[]; total: number; met: number }
export const nothing = { rows: [], total: 0, met: 0 }

/** Conditions and an order for a list that is longer than what is listed, and how many rows are wanted. */
export type Sifting = { where: readonly Condition[]; sort: readonly Sort[]; most: number }

export const isSifted = ({ where, sort }: Sifting): boolean => where.length > 0 || sort.length > 0

/** Throws `badInput` for a condition or an order of a column that the table does not have. */
export function checkColumns(specs: readonly ColumnSpec[], { where, sort }: Sifting): void {
  for (const { column } of [...where, ...sort])
    if (!specs.some(spec => spec.key === column))
      throw new AppError('badInput', `the table has no column "${column}" for conditions or order`)
}

/** The first rows that meet the conditions, in the order wanted, and how many do. `readerOf`: what reads a column's cell of the row at a place. */
export function siftRows<Row>(
  rows: readonly Row[],
  readerOf: (column: string) => ReadsCell,
  { where, sort, most }: Sifting,
): { rows: Row[]; met: number } {
  const tests = where.map(condition => rowTest(condition, readerOf(condition.column)))
  const met: number[] = []
  for (let row = 0; row < rows.length; row++) if (tests.every(test => test(row))) met.push(row)
  const readers = Object.fromEntries(sort.map(({ column }) => [column, readerOf(column)]))
  return {
    rows: orderedRows(met, sort, readers)
      .slice(0, most)
      .map(row => rows[row]!),
    met: met.length,
  }
}
/** Reads cells of rows that were put into columns. */
export const cellsIn =
  (columns: Batch['columns']) =>
  (column: string): ReadsCell => {
    const cells = columns[column]!
    return row => cells[row] as Cell
  }
