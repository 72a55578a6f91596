import type { ViewState } from '@dew-trail/contract/views'
import { resolveLimits } from '@dew-trail/core/tables/column-spec'
import { type ReactNode, useCallback, useEffect, useMemo, useState } from 'react'
import { formatWhole } from '../format.ts'
import { PlanDialog } from '../plan/PlanDialog.tsx'
import { JobLine } from '../shell/JobLine.tsx'
import { MoreMenu } from '../shell/MoreMenu.tsx'
import { useSite } from '../shell/site-context.ts'
import { download } from '../sheet/download.ts'
import { ExportMenu } from '../sheet/ExportMenu.tsx'
import { ViewMenu } from '../sheet/ViewMenu.tsx'
import { ColumnMenu } from '../sheet/ColumnMenu.tsx'
import { ConditionsBar } from '../sheet/ConditionsBar.tsx'
import type { SheetColumn } from '../sheet/columns.ts'
import { exportColumns, useExport } from '../sheet/use-export.ts'
import type { ExportFormat, Row, WholeSource } from '../sheet/row-source.ts'
import { Sheet } from '../sheet/Sheet.tsx'
import { useColumnTable } from '../sheet/use-column-table.ts'
import type { SheetState } from '../sheet/use-sheet-state.ts'
import { viewsOf } from '../sheet/use-views.ts'
import { CompareDialog } from './CompareDialog.tsx'
import { shippedViews } from './shipped-views.ts'
import { DomainNamesDialog, mostPhrases } from './DomainNames.tsx'
import { exportResults } from './export-results.ts'
import { ListMenu } from './ListMenu.tsx'
import { FirstPageDetails, type RowActions } from './FirstPageDetails.tsx'
import { useKeywordActions } from './use-keyword-actions.ts'
import { useSums } from '../sheet/use-sums.ts'

type Props = {
  name: string
  label: string
  columns: SheetColumn[]
  state: SheetState
  source: WholeSource
  hide: string[]
  sums: string[]
  /** Sums of the rows that are shown or, with `ofSelected`, of those that are selected, whose number stands there already. */
  foot(facts: NonNullable<ReturnType<typeof useSums>>, ofSelected: boolean): ReactNode
  actions?: ReactNode
  empty: ReactNode
  parentGathering?: number | null
  fileName: string
  /** Something drawn in the place of the sheet, from the same rows. */
  instead?: ((actions: RowActions) => ReactNode) | undefined
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
  instead,
}: Props) {
  const { site, market } = useSite()
  const { keep, weigh, track, gatherFrom, figures } = useKeywordActions()
  const table = useColumnTable(name, columns)
  const [selected, setSelected] = useState<ReadonlySet<number>>(new Set())
  const [planning, setPlanning] = useState<number[] | null>(null)
  const sums = useSums(source, sumColumns, selected)
  const [folded, setFolded] = useState(() => localStorage.getItem(`fold:${name}`) === 'yes')
  const [openFamilies, setOpenFamilies] = useState<number[]>([])
  const [naming, setNaming] = useState<number[] | null>(null)
  const [comparing, setComparing] = useState<number[] | null>(null)
  const foldBy = useCallback(
    (on: boolean) => {
      localStorage.setItem(`fold:${name}`, on ? 'yes' : 'no')
      setFolded(on)
    },
    [name],
  )
  const fold = useMemo(
    () => (folded ? { by: 'family', face: 'searches', open: openFamilies } : undefined),
    [folded, openFamilies],
  )
  const toggleFamily = useCallback(
    (id: number) =>
      setOpenFamilies(before => (before.includes(id) ? before.filter(each => each !== id) : [...before, id])),
    [],
  )
  const limits = useMemo(
    () => ({ comfortable: site.comfortable, stretch: site.stretch }),
    [site.comfortable, site.stretch],
  )
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
      v: (ids: number[]) => {
        for (const id of ids) toggleFamily(id)
      },
    }),
    [rowActions, toggleFamily],
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
  useEffect(() => {
    // Without the sheet nobody else asks for the rows.
    if (instead) source.setQuery({ where: resolveLimits(state.where, limits), sort: state.sort, fold })
  }, [instead, source, state.where, state.sort, fold, limits])
  const shown = { source, table, columns, selected, fileName: `${site.domain}-${fileName}`, title: 'Keywords' }
  const exporting = useExport(shown)
  const saveResults = async (format: ExportFormat): Promise<void> => {
    const rows = await source.rows(selected.size ? [...selected] : await source.ids())
    const file = await exportResults(site.id, market.id, exportColumns(shown), rows, format)
    download(file, `${shown.fileName}-results.${format}`)
  }
  const views = viewsOf({ state, table, columns }, 'gatherings')
  const currentView = (): ViewState => ({ ...views.current(), folded })
  const applyView = (view: ViewState) => {
    views.apply(view)
    foldBy(view.folded)
  }
  const ids = [...selected]
  return (
    <div
      className="main"
      onClickCapture={event => {
        const button = (event.target as HTMLElement).closest<HTMLElement>('[data-family]')
        if (button) toggleFamily(Number(button.dataset.family))
      }}
    >
      <ConditionsBar
        columns={columns}
        state={state}
        searchColumn="phrase"
        hide={hide}
        end={
          <>
            {actions}
            <button
              type="button"
              className="link"
              aria-pressed={folded}
              onClick={() => foldBy(!folded)}
              title="Forms of one keyword (singular, plural, word order) stand under the most searched one"
            >
              {folded ? 'Unfold forms' : 'Fold forms'}
            </button>
            <ViewMenu sheet="keywords" shipped={shippedViews} current={currentView} onChoose={applyView} />
            <ColumnMenu table={table} columns={columns} />
            <ExportMenu {...exporting} onSaveResults={saveResults} />
          </>
        }
      />
      {instead ? (
        instead(rowActions)
      ) : (
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
          fold={fold}
          limits={limits}
          empty={empty}
        />
      )}
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
            <ListMenu ids={ids} />
            <MoreMenu
              items={[
                {
                  label: 'Compare side by side (2 to 5)',
                  run: selected.size > 1 && selected.size <= 5 ? () => setComparing(ids) : undefined,
                },
                {
                  label: `Free domain names (up to ${mostPhrases})`,
                  run: selected.size <= mostPhrases ? () => setNaming(ids) : undefined,
                },
                { label: 'Ask for figures', run: () => rowActions.figures(ids) },
              ]}
            />
            <button type="button" className="link" onClick={() => setSelected(new Set())}>
              Select none
            </button>
          </>
        )}
        {sums && foot(sums, selected.size > 0)}
        <div className="foot-end">
          <JobLine />
        </div>
      </div>
      {comparing && <CompareDialog ids={comparing} columns={columns} onClose={() => setComparing(null)} />}
      {naming && <DomainNamesDialog ids={naming} onClose={() => setNaming(null)} />}
      {planning && <PlanDialog keywordIds={planning} onClose={() => setPlanning(null)} />}
    </div>
  )
}
