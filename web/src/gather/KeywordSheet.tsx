import { type ReactNode, useCallback, useMemo, useState } from 'react'
import { formatWhole } from '../format.ts'
import { PlanDialog } from '../plan/PlanDialog.tsx'
import { JobLine } from '../shell/JobLine.tsx'
import { useSite } from '../shell/site-context.ts'
import { ColumnMenu } from '../sheet/ColumnMenu.tsx'
import { ConditionsBar } from '../sheet/ConditionsBar.tsx'
import type { SheetColumn } from '../sheet/columns.ts'
import { exportShown } from '../sheet/export-shown.ts'
import type { Row, WholeSource } from '../sheet/row-source.ts'
import { Sheet } from '../sheet/Sheet.tsx'
import { useColumnTable } from '../sheet/use-column-table.ts'
import type { SheetState } from '../sheet/use-sheet-state.ts'
import { FirstPageDetails, type RowActions } from './FirstPageDetails.tsx'
import { useKeywordActions } from './use-keyword-actions.ts'
import { useSums } from './use-source-facts.ts'

type Props = {
  name: string
  label: string
  columns: SheetColumn[]
  state: SheetState
  source: WholeSource
  hide: string[]
  sums: string[]
  foot(facts: NonNullable<ReturnType<typeof useSums>>): ReactNode
  actions?: ReactNode
  empty: ReactNode
  parentGathering?: number | null
  fileName: string
}

/** A sheet of keywords with what Gather and Weigh share: conditions, marks, keys, sums, export, the way to plan and tracking. */
export function KeywordSheet({
  name,
  label,
  columns,
  state,
  source,
  hide,
  sums: sumColumns,
  foot,
  actions,
  empty,
  parentGathering,
  fileName,
}: Props) {
  const { site } = useSite()
  const { keep, weigh, track, gatherFrom, figures } = useKeywordActions()
  const table = useColumnTable(name, columns)
  const [selected, setSelected] = useState<ReadonlySet<number>>(new Set())
  const [planning, setPlanning] = useState<number[] | null>(null)
  const sums = useSums(source, sumColumns, selected)
  const rowActions = useMemo<RowActions>(
    () => ({
      keep: (ids, kept) => void keep(ids, kept),
      gather: ids => void gatherFrom(ids, parentGathering ?? undefined),
      weigh: ids => void weigh(ids, ids.length === 1),
      plan: setPlanning,
      track: ids => void track(ids),
      figures: ids => void figures(ids),
    }),
    [keep, gatherFrom, weigh, track, figures, parentGathering],
  )
  const keys = useMemo(
    () => ({
      y: (ids: number[]) => rowActions.keep(ids, true),
      n: (ids: number[]) => rowActions.keep(ids, false),
      g: rowActions.gather,
      w: rowActions.weigh,
      p: rowActions.plan,
      t: rowActions.track,
      f: rowActions.figures,
    }),
    [rowActions],
  )
  const mark = useMemo(
    () => ({
      label: 'Keep or let go (Y, N)',
      isOn: (row: Row) => row.kept === true,
      toggle: (row: Row) => rowActions.keep([row.id], !row.kept),
    }),
    [rowActions],
  )
  const unfold = useCallback((row: Row) => <FirstPageDetails row={row} actions={rowActions} />, [rowActions])
  const exportRows = () => exportShown({ source, table, columns, selected, fileName: `${site.domain}-${fileName}.csv` })
  const ids = [...selected]
  return (
    <div className="main">
      <ConditionsBar
        columns={columns}
        state={state}
        searchColumn="phrase"
        hide={hide}
        end={
          <>
            {actions}
            <ColumnMenu table={table} columns={columns} />
            <button
              type="button"
              className="link"
              onClick={exportRows}
              title="What is on screen: these columns, conditions and order"
            >
              Export CSV
            </button>
          </>
        }
      />
      <Sheet
        label={label}
        source={source}
        columns={columns}
        table={table}
        state={state}
        selected={selected}
        onSelect={setSelected}
        mark={mark}
        unfold={unfold}
        keys={keys}
        empty={empty}
      />
      <div className="foot">
        {selected.size > 0 && (
          <>
            <span>
              <b>{formatWhole(selected.size)}</b> selected
            </span>
            <button type="button" className="link" onClick={() => rowActions.keep(ids, true)}>
              Keep
            </button>
            <button type="button" className="link" onClick={() => rowActions.keep(ids, false)}>
              Let go
            </button>
            <button type="button" className="link" onClick={() => rowActions.weigh(ids)}>
              Weigh
            </button>
            <button type="button" className="link" onClick={() => setPlanning(ids)}>
              Put on a page
            </button>
            <button type="button" className="link" onClick={() => rowActions.track(ids)}>
              Track
            </button>
            <button type="button" className="link" onClick={() => rowActions.figures(ids)}>
              Ask for figures
            </button>
            <button type="button" className="link" onClick={() => setSelected(new Set())}>
              Select none
            </button>
          </>
        )}
        {sums && foot(sums)}
        <div className="foot-end">
          <JobLine />
        </div>
      </div>
      {planning && <PlanDialog keywordIds={planning} onClose={() => setPlanning(null)} />}
    </div>
  )
}
