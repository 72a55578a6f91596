import { tablePath } from '@dew-trail/contract/tables'
import type { ViewState } from '@dew-trail/contract/views'
import { conditionText, sortText } from '@dew-trail/core/tables/condition-text'
import type { SheetColumn } from './columns.ts'
import type { ShownSheet } from '../report-pieces/shown-pieces.ts'
import { download } from '../ui/download.ts'
import type { ExportColumn, ExportFormat, WholeSource } from '../rows/row-source.ts'
import type { SheetState } from './use-sheet-state.ts'
import type { ColumnTable } from './use-column-table.ts'

/** A table that the server writes too, with what is shown of it. */
export type ServedTable = { siteId: number; marketId: number; name: string; state: SheetState }

export type ShownTable = {
  /** The same table as the server writes it, for programs that ask for it again and again. */
  served?: ServedTable
  source: WholeSource
  table: ColumnTable
  columns: readonly SheetColumn[]
  selected: ReadonlySet<number>
  /** Without the ending, which follows from the format. */
  fileName: string
  /** Of the sheet in a workbook. */
  title: string
  /** By what is shown, said above a print. */
  about?(): string
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
  /** Copies the first text column alone, a row a line and without a heading, as a list to paste; `nameLabel`: what it is called. */
  nameLabel?: string
  onCopyNames?(): Promise<number>
  /** Prints all rows; gives how many. */
  onPrint(): Promise<number>
  onCopyAddress?(): Promise<void>
  /** What is shown, as text, as a report keeps it. */
  keep: ShownSheet['keep']
  /** The table as it is shown, as a section of a report holds it. */
  reportTable?(): { name: string; state: ViewState }
} {
  const { source, selected, fileName, title } = shown
  const ids = selected.size ? [...selected] : undefined
  const first = shown.columns.find(column => column.kind === 'text')
  return {
    async onSave(format) {
      download(await source.exportFile(exportColumns(shown), format, title, ids), `${fileName}.${format}`)
    },
    async onCopy() {
      const text = await (await source.exportFile(exportColumns(shown), 'tsv', title, ids)).text()
      await navigator.clipboard.writeText(text)
      return text.split('\n').length - 1
    },
    ...(first && {
      nameLabel: first.label,
      async onCopyNames() {
        const text = await (await source.exportFile([{ key: first.key, label: first.label }], 'tsv', title, ids)).text()
        const lines = text.trimEnd().split(/\r?\n/).slice(1)
        await navigator.clipboard.writeText(lines.join('\n'))
        return lines.length
      },
    }),
    async keep() {
      const columns = exportColumns(shown)
      const [file, { cellText }, { tableOf }] = await Promise.all([
        source.exportFile(columns, 'json', title, ids),
        import('./print-table.ts'),
        import('../report-pieces/read-table.ts'),
      ])
      return tableOf(columns, JSON.parse(await file.text()), cellText)
    },
    async onPrint() {
      const columns = exportColumns(shown)
      const [file, { printTable }] = await Promise.all([
        source.exportFile(columns, 'json', title, ids),
        import('./print-table.ts'),
      ])
      return printTable({ title: `${title}: ${fileName}`, about: shown.about?.() ?? '' }, columns, file)
    },
    ...(shown.served
      ? {
          onCopyAddress: () => navigator.clipboard.writeText(addressOf(shown, shown.served!)),
          reportTable: () => reportTable(shown, shown.served!),
        }
      : {}),
  }
}

function reportTable(
  { table, leaveOut = [], add = [] }: ShownTable,
  { name, state }: ServedTable,
): { name: string; state: ViewState } {
  const columns = [...table.getVisibleLeafColumns().map(column => column.id), ...add]
  return {
    name,
    state: {
      where: state.where.map(conditionText),
      sort: sortText(state.sort),
      columns: columns.filter(key => !leaveOut.includes(key)),
      folded: false,
    },
  }
}

/** Where the server gives what is shown as CSV: these columns, conditions and order. */
function addressOf(
  { table, leaveOut = [], add = [] }: ShownTable,
  { siteId, marketId, name, state }: ServedTable,
): string {
  const columns = [...table.getVisibleLeafColumns().map(column => column.id), ...add]
  const path = tablePath(siteId, marketId, name, {
    format: 'csv',
    columns: columns.filter(key => !leaveOut.includes(key)),
    where: state.where.map(conditionText),
    sort: sortText(state.sort),
  })
  return new URL(path, window.location.href).href
}
