import { resolveLimits } from '@dew-trail/core/tables/column-spec'
import { lazy, Suspense, type ReactNode, useCallback, useEffect, useMemo, useState } from 'react'
import { JobLine } from '../ui/JobLine.tsx'
import { MoreMenu } from '../ui/MoreMenu.tsx'
import { ownLevelsIn } from '../ui/own-levels.ts'
import { useSite } from '../ui/site-context.ts'
import { download } from '../ui/download.ts'
import { ExportMenu } from '../sheet/ExportMenu.tsx'
import { conditionsLine } from '../sheet/condition-words.ts'
import { ViewMenu } from '../sheet/ViewMenu.tsx'
import { ColumnMenu } from '../sheet/ColumnMenu.tsx'
import { ConditionsBar } from '../sheet/ConditionsBar.tsx'
import type { SheetColumn } from '../sheet/columns.ts'
import { exportColumns, useExport } from '../sheet/use-export.ts'
import type { ExportFormat, Row, WholeSource } from '../rows/row-source.ts'
import { Sheet } from '../sheet/Sheet.tsx'
import { AllSums } from '../sheet/AllSums.tsx'
import { SelectedCount } from '../sheet/SelectedCount.tsx'
import { useSelection } from '../sheet/use-selection.ts'
import { useNamedColumns } from './use-named-columns.ts'
import { useRowActions } from './use-row-actions.tsx'
import { useColumnTable } from '../sheet/use-column-table.ts'
import type { SheetState } from '../sheet/use-sheet-state.ts'
import { viewsOf } from '../sheet/use-views.ts'
import { shippedViews } from './shipped-views.ts'
import { FiguresMoved } from './FiguresMoved.tsx'
import { useKeywordActions } from './keyword-actions.ts'
import { useSums } from '../sheet/use-sums.ts'

// Loaded when they are first wanted.
const FirstPageDetails = lazy(() =>
  import('./FirstPageDetails.tsx').then(module => ({ default: module.FirstPageDetails })),
)
const CompareDialog = lazy(() => import('./CompareDialog.tsx').then(module => ({ default: module.CompareDialog })))

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
  instead?: ReactNode
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
  const { run } = useKeywordActions()
  const details = useMemo(() => ({ parentId: parentGathering ?? undefined }), [parentGathering])
  const table = useColumnTable(name, columns)
  const named = useNamedColumns(columns)
  const selection = useSelection(source)
  const { selected, setSelected, take } = selection
  const sums = useSums(source, sumColumns, selected)
  const [folded, setFolded] = useState(() => localStorage.getItem(`fold:${name}`) === 'yes')
  const [openFamilies, setOpenFamilies] = useState<number[]>([])
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
  const limits = useMemo(() => {
    const levels = ownLevelsIn(site, market)
    return { comfortable: levels?.comfortable ?? null, stretch: levels?.stretch ?? null }
  }, [site, market])
  const rowActions = useRowActions(details)
  const keys = useMemo(
    () => ({
      ...rowActions.keys(take),
      v: (id: number | null) => {
        for (const each of id === null ? selected : [id]) toggleFamily(each)
      },
    }),
    [rowActions, take, toggleFamily, selected],
  )
  const mark = useMemo(
    () => ({
      label: 'Keep or let go (Y, N)',
      isOn: (row: Row) => row.kept === true,
      toggle: (row: Row) => run(row.kept ? 'letGo' : 'keep', [row.id]),
    }),
    [run],
  )
  const unfold = useCallback(
    (row: Row) => (
      <Suspense fallback={<p className="quiet">Loading</p>}>
        <FirstPageDetails row={row} details={details} />
      </Suspense>
    ),
    [details],
  )
  useEffect(() => {
    // Without the sheet nobody else asks for the rows.
    if (instead) source.setQuery({ where: resolveLimits(state.where, limits), sort: state.sort, fold })
  }, [instead, source, state.where, state.sort, fold, limits])
  const served = { siteId: site.id, marketId: market.id, name: 'keywords', state }
  const shown = {
    served,
    source,
    table,
    columns,
    selected,
    fileName: `${site.domain}-${fileName}`,
    title: 'Keywords',
    about: () => conditionsLine(state.where, named),
  }
  const exporting = useExport(shown)
  const saveResults = async (format: ExportFormat): Promise<void> => {
    const rows = await source.rows(selected.size ? [...selected] : await source.ids())
    const { exportResults } = await import('./export-results.ts')
    const file = await exportResults(site.id, market.id, exportColumns(shown), rows, format)
    download(file, `${shown.fileName}-results.${format}`)
  }
  const views = viewsOf({ name, state, table, columns, fold: { on: folded, set: foldBy } }, 'gatherings')
  const ids = [...selected]
  return (
    <div
      className="main"
      onClickCapture={event => {
        const button = (event.target as HTMLElement).closest<HTMLElement>('[data-family]')
        if (button) toggleFamily(Number(button.dataset.family))
      }}
    >
      <FiguresMoved />
      <ConditionsBar
        columns={named}
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
            <ViewMenu
              sheet="keywords"
              shipped={shippedViews}
              current={views.current}
              onChoose={views.apply}
              onGiveBack={views.giveBack}
            />
            <ColumnMenu table={table} columns={columns} />
            <ExportMenu {...exporting} title={label} onSaveResults={saveResults} />
          </>
        }
      />
      {instead ? (
        instead
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
          rowMenu={rowActions.menu}
          fold={fold}
          limits={limits}
          empty={empty}
        />
      )}
      <div className="foot">
        {selected.size > 0 && (
          <>
            <SelectedCount {...selection} />
            {rowActions.foot(take)}
            <MoreMenu
              items={[
                {
                  label: 'Compare side by side (2 to 5)',
                  run: selected.size > 1 && selected.size <= 5 ? () => setComparing(ids) : undefined,
                },
                ...rowActions.more(take, selected.size),
              ]}
            />
            <button type="button" className="link" onClick={() => setSelected(new Set())}>
              Select none
            </button>
          </>
        )}
        {sums && (source.state !== 'loading' || source.count > 0) && foot(sums, selected.size > 0)}
        <AllSums source={source} table={table} columns={columns} selected={selected} />
        <div className="foot-end">
          <JobLine />
        </div>
      </div>
      <Suspense fallback={null}>
        {comparing && <CompareDialog ids={comparing} columns={columns} onClose={() => setComparing(null)} />}
      </Suspense>
    </div>
  )
}
