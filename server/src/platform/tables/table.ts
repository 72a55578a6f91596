import type { Batch, ColumnSpec, Condition } from '@dew-trail/core/tables/column-spec'
import type { TableColumn } from '@dew-trail/core/tables/table-column'
import type { Context } from '../../context.ts'

/** A table opened for a site and market. */
export type OpenTable = {
  /** Of the sheet in a workbook. */
  title: string
  /** What can be asked for and is said in the first line; in the order of a file. */
  columns: readonly TableColumn[]
  /** All columns of the rows, also those that only conditions use. */
  specs: readonly ColumnSpec[]
  /** Conditions that are always there. */
  always?: readonly Condition[]
  /** Limits of the site's own that conditions may name. */
  limits?: Record<string, number | null>
  batches(): AsyncIterable<Batch>
}

/** A feature's table, to be written to files by the server. */
export type Table = (context: Context, siteId: number, marketId: number) => Promise<OpenTable>
