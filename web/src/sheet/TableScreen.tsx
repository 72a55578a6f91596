import type { ViewState } from '@dew-trail/contract/views'
import { type ReactNode, useMemo } from 'react'
import { formatWhole } from '../ui/format.ts'
import { JobLine } from '../ui/JobLine.tsx'
import { useSite } from '../ui/site-context.ts'
import { conditionsLine } from './condition-words.ts'
import { ColumnMenu } from './ColumnMenu.tsx'
import type { SheetColumn } from './columns.ts'
import { ConditionsBar } from './ConditionsBar.tsx'
import { ExportMenu } from './ExportMenu.tsx'
import type { Row, WholeSource } from '../rows/row-source.ts'
import { Sheet } from './Sheet.tsx'
import { AllSums } from './AllSums.tsx'
import type { RowMenuItem } from './RowMenu.tsx'
import { SelectedCount } from './SelectedCount.tsx'
import { type Selection, useSelection } from './use-selection.ts'
import { ScreenTitle } from '../ui/ScreenTitle.tsx'
import { useColumnTable } from './use-column-table.ts'
import { useExport } from './use-export.ts'
import type { SheetState } from './use-sheet-state.ts'
import { useSums } from './use-sums.ts'
import { ViewMenu } from './ViewMenu.tsx'
import { viewsOf } from './use-views.ts'

type Facts = NonNullable<ReturnType<typeof useSums>>
type Table = {
  /** Under which columns and views are kept. */
  name: string
  /** Its name on the server, where that writes it to files too. */
  served?: string
  /** Of the sheet, for who cannot see it. */
  label: string
  /** Of files, after the site's domain, and of the sheet in a workbook. */
  fileName: string
  title: string
  columns: SheetColumn[]
  state: SheetState
  searchColumn: string
  /** Columns that are summed for `foot`. */
  sums: readonly string[]
  unfold?: (row: Row) => ReactNode
  /** Above the conditions, across the screen. */
  top?: ReactNode
  lead?: ReactNode
  actions?: ReactNode
  /** Between the conditions and the sheet. */
  head?: ReactNode
  foot?: (facts: Facts) => ReactNode
  /** What can be done with a row by keys and by its menu; keys act on the selection where there is one. */
  rowActions?: {
    keys(take: Selection['take']): Record<string, (id: number | null) => void>
    menu(row: Row): RowMenuItem[]
  }
  /** What can be done with selected rows; `take` ends the selection and gives those of them that are in sight. */
  footSelected?: (take: Selection['take']) => ReactNode
  footEnd?: ReactNode
  /** Columns that are only drawn, and others that say in words what a drawing says, for files. */
  leaveOut?: readonly string[]
  add?: readonly string[]
  shippedViews?: Array<{ name: string; state: ViewState }>
  /** What is shown where there is no row at all. */
  none: ReactNode
}
type Props = Table & {
  /** The rows, null until they are there. */
  source: WholeSource | null
  error: Error | null
  /** How many rows there are without conditions. */
  total: number
  /** What one row is: "keyword", "page". */
  noun: string
}

/** A screen that is a table: conditions, views, columns, export, sums, and what stands in place of rows that are not there. */
export function TableScreen({ source, error, ...table }: Props) {
  return (
    <main className="screen whole">
      <ScreenTitle title={table.title} />
      {error ? (
        <div className="main">
          {table.top}
          <div className="empty" role="alert">
            <h2>The {table.noun}s could not be loaded</h2>
            <p>{error.message}</p>
          </div>
        </div>
      ) : source ? (
        <TableWithRows source={source} {...table} />
      ) : (
        <div className="main">
          {table.top}
          <div className="empty quiet">Loading</div>
        </div>
      )}
    </main>
  )
}

function TableWithRows({
  source,
  total,
  noun,
  ...shown
}: Table & { source: WholeSource; total: number; noun: string }) {
  const { site, market } = useSite()
  const { name, label, columns, state } = shown
  const table = useColumnTable(name, columns)
  const selection = useSelection(source)
  const { selected, setSelected } = selection
  const sums = useSums(source, shown.sums, selected)
  const exporting = useExport({
    source,
    table,
    columns,
    selected,
    fileName: `${site.domain}-${shown.fileName}`,
    title: shown.title,
    about: () => conditionsLine(state.where, columns),
    ...(shown.served ? { served: { siteId: site.id, marketId: market.id, name: shown.served, state } } : {}),
    ...(shown.leaveOut ? { leaveOut: shown.leaveOut } : {}),
    ...(shown.add ? { add: shown.add } : {}),
  })
  const { rowActions } = shown
  const keys = useMemo(() => rowActions?.keys(selection.take) ?? {}, [rowActions, selection.take])
  const views = viewsOf({ name, state, table, columns })
  return (
    <div className="main">
      {shown.top}
      <ConditionsBar
        columns={columns}
        state={state}
        searchColumn={shown.searchColumn}
        lead={shown.lead}
        end={
          <>
            {shown.actions}
            <ViewMenu
              sheet={name}
              shipped={shown.shippedViews ?? []}
              current={views.current}
              onChoose={views.apply}
              onGiveBack={views.giveBack}
            />
            <ColumnMenu table={table} columns={columns} />
            <ExportMenu {...exporting} title={label} />
          </>
        }
      />
      {shown.head}
      <Sheet
        label={label}
        source={source}
        columns={columns}
        table={table}
        state={state}
        selected={selected}
        onSelect={setSelected}
        {...(shown.unfold ? { unfold: shown.unfold } : {})}
        {...(shown.rowActions ? { keys, rowMenu: shown.rowActions.menu } : {})}
        empty={
          total ? (
            <div className="empty">
              <h2>No {noun} meets all conditions</h2>
              <p>Take a condition away to see more.</p>
              <button type="button" className="link" onClick={() => state.setWhere([])}>
                Clear all conditions
              </button>
            </div>
          ) : (
            <div className="empty">{shown.none}</div>
          )
        }
      />
      <div className="foot">
        {selected.size > 0 && (
          <>
            <SelectedCount {...selection} />
            {shown.footSelected?.(selection.take)}
            <button type="button" className="link" onClick={() => setSelected(new Set())}>
              Select none
            </button>
          </>
        )}
        {sums && (source.state !== 'loading' || source.count > 0) && (
          <>
            <span>
              <b>{formatWhole(sums.rows)}</b>{' '}
              {selected.size > 0 || sums.rows === total
                ? sums.rows === 1
                  ? noun
                  : `${noun}s`
                : `shown of ${formatWhole(total)}`}
            </span>
            {shown.foot?.(sums)}
          </>
        )}
        <AllSums source={source} table={table} columns={columns} selected={selected} />
        <div className="foot-end">
          <JobLine />
          {shown.footEnd}
        </div>
      </div>
    </div>
  )
}
