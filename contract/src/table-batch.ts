import type { Batch, ColumnSpec } from '@dew-trail/core/tables/column-spec'
import type { TableColumn } from '@dew-trail/core/tables/table-column'

/** The columns of a table as a store holds them. */
export const specsOf = (table: Readonly<Record<string, TableColumn>>): ColumnSpec[] =>
  Object.values(table).map(({ key, kind }) => ({ key, kind }) as ColumnSpec)

/** Cells of rows column by column, for columns that are named like the fields of a row. */
export const columnsOf = <Row, Key extends keyof Row & string>(
  rows: readonly Row[],
  keys: readonly Key[],
): Batch['columns'] =>
  Object.fromEntries(keys.map(key => [key, rows.map(row => row[key] as Batch['columns'][string][number])]))
