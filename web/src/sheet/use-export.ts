import type { SheetColumn } from './columns.ts'
import { download } from './download.ts'
import type { ExportColumn, ExportFormat, WholeSource } from '../rows/row-source.ts'
import type { ColumnTable } from './use-column-table.ts'

export type ShownTable = {
  source: WholeSource
  table: ColumnTable
  columns: readonly SheetColumn[]
  selected: ReadonlySet<number>
  /** Without the ending, which follows from the format. */
  fileName: string
  /** Of the sheet in a workbook. */
  title: string
  /** Columns that are only drawn, and others that say in words what a drawing says. */
  leaveOut?: readonly string[]
  add?: readonly string[]
}

/** The columns of a file: those on screen, each with all that its cells show. */
export function exportColumns({
  table,
  columns,
  leaveOut = [],
  add = [],
}: Pick<ShownTable, 'table' | 'columns' | 'leaveOut' | 'add'>): ExportColumn[] {
  const keys = [...table.getVisibleLeafColumns().map(column => column.id), ...add]
  return keys
    .filter(key => !leaveOut.includes(key))
    .flatMap(key => {
      const column = columns.find(each => each.key === key)
      return column?.exports ?? [{ key, label: column?.label ?? key }]
    })
}

/** What is on screen as a file or in the clipboard: these columns, conditions and order; the selected rows when there are any. */
export function useExport(shown: ShownTable): {
  onSave(format: ExportFormat): Promise<void>
  onCopy(): Promise<number>
} {
  const { source, selected, fileName, title } = shown
  const ids = selected.size ? [...selected] : undefined
  return {
    async onSave(format) {
      download(await source.exportFile(exportColumns(shown), format, title, ids), `${fileName}.${format}`)
    },
    async onCopy() {
      const text = await (await source.exportFile(exportColumns(shown), 'tsv', title, ids)).text()
      await navigator.clipboard.writeText(text)
      return text.split('\n').length - 1
    },
  }
}
