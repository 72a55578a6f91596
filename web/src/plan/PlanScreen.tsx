import { createPage } from '@dew-trail/contract/plan'
import { useCallback, useMemo, useState } from 'react'
import { Link } from 'react-router'
import { call } from '../api/call.ts'
import { plural } from '../format.ts'
import { useSums } from '../gather/use-source-facts.ts'
import { JobLine } from '../shell/JobLine.tsx'
import { useSite } from '../shell/site-context.ts'
import { useAct } from '../shell/use-act.ts'
import { ColumnMenu } from '../sheet/ColumnMenu.tsx'
import { ConditionsBar } from '../sheet/ConditionsBar.tsx'
import { ExportMenu } from '../sheet/ExportMenu.tsx'
import { useExport } from '../sheet/use-export.ts'
import type { Row } from '../sheet/row-source.ts'
import { Sheet } from '../sheet/Sheet.tsx'
import { useColumnTable } from '../sheet/use-column-table.ts'
import { SumText } from '../sheet/SumText.tsx'
import { useSheetState } from '../sheet/use-sheet-state.ts'
import { useRowsInWorker } from '../sheet/use-rows-in-worker.ts'
import { PageDetails } from './PageDetails.tsx'
import { planBatch, planColumns, planSpecs } from './plan-columns.tsx'
import { usePlan } from './use-plan.ts'

const sumColumns = ['searches', 'visits']
const none: ReadonlySet<number> = new Set()

export default function PlanScreen() {
  const { site, market } = useSite()
  const { pages, error } = usePlan()
  const batch = useMemo(() => (pages ? planBatch(pages) : null), [pages])
  const source = useRowsInWorker(planSpecs, batch)
  const state = useSheetState('deadline')
  if (error)
    return (
      <main className="screen whole">
        <div className="main">
          <div className="empty" role="alert">
            <h1>The plan could not be loaded</h1>
            <p>{error.message}</p>
          </div>
        </div>
      </main>
    )
  if (!source) return null
  return <PlanTable key={`${site.id}:${market.id}`} source={source} state={state} pages={pages ?? []} />
}

type Props = {
  source: NonNullable<ReturnType<typeof useRowsInWorker>>
  state: ReturnType<typeof useSheetState>
  pages: NonNullable<ReturnType<typeof usePlan>['pages']>
}
function PlanTable({ source, state, pages }: Props) {
  const { site, market } = useSite()
  const act = useAct()
  const table = useColumnTable('plan', planColumns)
  const [selected, setSelected] = useState<ReadonlySet<number>>(none)
  const sums = useSums(source, sumColumns, selected)
  const byId = useMemo(() => new Map(pages.map(page => [page.id, page])), [pages])
  const unfold = useCallback(
    (row: Row) => {
      const page = byId.get(row.id)
      return page ? <PageDetails key={page.id} page={page} /> : null
    },
    [byId],
  )
  const exporting = useExport({
    source,
    table,
    columns: planColumns,
    selected,
    fileName: `${site.domain}-plan`,
    title: 'Plan',
  })
  const late = pages.filter(page => page.late).length
  const add = () =>
    act(async () => {
      const { id } = await call(createPage, { siteId: site.id, title: 'New page' })
      state.toggleOpen(id)
    })
  return (
    <main className="screen whole">
      <div className="main">
        <ConditionsBar
          columns={planColumns}
          state={state}
          searchColumn="title"
          end={
            <>
              <button type="button" className="link" onClick={add}>
                Add a page
              </button>
              <ColumnMenu table={table} columns={planColumns} />
              <ExportMenu {...exporting} />
            </>
          }
        />
        <Sheet
          label="Planned pages"
          source={source}
          columns={planColumns}
          table={table}
          state={state}
          selected={selected}
          onSelect={setSelected}
          unfold={unfold}
          empty={
            pages.length ? (
              <div className="empty">
                <h1>No page meets all conditions</h1>
                <p>Take a condition away to see more.</p>
                <button type="button" className="link" onClick={() => state.setWhere([])}>
                  Clear all conditions
                </button>
              </div>
            ) : (
              <div className="empty">
                <h1>No page is planned yet</h1>
                <p>
                  Select keywords in Weigh that one page can answer and press P. Each page gathers the searches and the
                  visits to expect, a deadline and a state.
                </p>
                <Link className="link" to={`/${site.id}/weigh?market=${market.id}`}>
                  Go to Weigh
                </Link>
              </div>
            )
          }
        />
        <div className="foot">
          <span>
            <b>{plural(sums?.rows ?? 0, 'page')}</b>
          </span>
          {late > 0 && (
            <span className="fall">
              <b>{late}</b> late
            </span>
          )}
          {sums && (
            <>
              <span>
                <SumText sum={sums.sums.searches!} of="searches/mo" />
              </span>
              <span>
                <SumText sum={sums.sums.visits!} of="visits/mo expected" about />
              </span>
            </>
          )}
          <div className="foot-end">
            <JobLine />
          </div>
        </div>
      </div>
    </main>
  )
}
