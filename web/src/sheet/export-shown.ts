import type { SheetColumn } from './columns.ts'
import { download } from './download.ts'
import type { ExportFormat, WholeSource } from './row-source.ts'
import type { ColumnTable } from './use-column-table.ts'

type Export = {
  source: WholeSource
  table: ColumnTable
  columns: readonly SheetColumn[]
  selected: ReadonlySet<number>
  /** Without the ending, which follows from the format. */
  fileName: string
  format?: ExportFormat
  /** Columns that are only drawn, and others that say in words what a drawing says. */
  leaveOut?: readonly string[]
  add?: readonly string[]
}

/** Saves what is on screen as a file: these columns, conditions and order; the selected rows when there are any. */
export async function exportShown({
  source,
  table,
  columns,
  selected,
  fileName,
  format = 'csv',
  leaveOut = [],
  add = [],
}: Export): Promise<void> {
  const keys = [...table.getVisibleLeafColumns().map(column => column.id), ...add].filter(
    key => !leaveOut.includes(key),
  )
  const shown = keys.map(key => ({ key, label: columns.find(column => column.key === key)?.label ?? key }))
  const file = await source.exportFile(shown, format, selected.size ? [...selected] : undefined)
  download(file, `${fileName}.${format}`)
}
