import { planBatch, planSpecs } from '@dew-trail/contract/plan-table'
import { lazy, useCallback, useMemo } from 'react'
import { Link } from 'react-router'
import type { Row } from '../../rows/row-source.ts'
import { plainView } from '../../sheet/plain-view.ts'
import { SumText } from '../../sheet/SumText.tsx'
import { TableScreen } from '../../sheet/TableScreen.tsx'
import { useRowsInWorker } from '../../sheet/use-rows-in-worker.ts'
import { useSheetState } from '../../sheet/use-sheet-state.ts'
import { useShowDialog } from '../../ui/DialogHost.tsx'
import { useSite } from '../../ui/site-context.ts'
import { PageDetails } from './PageDetails.tsx'
import { AddPage, PlanBar } from './PlanBar.tsx'
import { planColumns } from './plan-columns.tsx'
import { usePlan } from './use-plan.ts'
import { usePlanMenu } from './use-plan-menu.ts'

const HandOverDialog = lazy(() => import('./HandOverDialog.tsx'))
const sumColumns = ['searches', 'visitsNow', 'visits', 'gain', 'worth', 'effort']
const shippedViews = [
  plainView('All of them', 'deadline'),
  plainView('Late', 'deadline', 'late:yes'),
  plainView('To be written', 'deadline', 'state:is:idea|writing'),
  plainView('Most to gain', '-gain', 'state:is:idea|writing'),
  plainView('Rules not met', '-searches', 'rulesBroken:from:1'),
]

/** Planned pages as a sheet that unfolds to what can be changed of each. */
export function ListTab() {
  const { site, market } = useSite()
  const { pages, byId, error } = usePlan()
  const batch = useMemo(() => (pages ? planBatch(pages) : null), [pages])
  const source = useRowsInWorker(planSpecs, batch)
  const state = useSheetState('deadline')
  const show = useShowDialog()
  const unfold = useCallback(
    (row: Row) => {
      const page = byId.get(row.id)
      return page ? <PageDetails key={page.id} page={page} /> : null
    },
    [byId],
  )
  const rowActions = usePlanMenu(byId)
  const late = pages?.filter(page => page.late).length ?? 0
  return (
    <TableScreen
      key={`${site.id}:${market.id}`}
      name="plan"
      served="plan"
      label="Planned pages"
      fileName="plan"
      title="Plan"
      noun="page"
      source={source}
      error={error}
      total={pages?.length ?? 0}
      columns={planColumns}
      state={state}
      searchColumn="title"
      sums={sumColumns}
      shippedViews={shippedViews}
      unfold={unfold}
      rowActions={rowActions}
      top={<PlanBar see="list" />}
      footSelected={take => (
        <button
          type="button"
          className="link"
          onClick={() => void take().then(({ ids }) => show(close => <HandOverDialog pageIds={ids} onClose={close} />))}
        >
          Hand over
        </button>
      )}
      foot={({ sums }) => (
        <>
          {late > 0 && (
            <span className="fall">
              <b>{late}</b> late
            </span>
          )}
          <span>
            <SumText sum={sums.searches!} of="searches/mo" />
          </span>
          <span>
            <SumText sum={sums.visitsNow!} of="visits/mo now" about />
          </span>
          <span>
            <SumText sum={sums.visits!} of="with the plan" about />
          </span>
        </>
      )}
      none={
        <>
          <h2>No page is planned yet</h2>
          <p>
            Select keywords in Weigh that one page can answer and press P, or let the themes of a grouping be assigned
            on the site map. Each page gathers the searches and the visits to expect, a brief, a deadline and a state.
          </p>
          <Link className="link" to={`/${site.id}/weigh?market=${market.id}`}>
            Go to Weigh
          </Link>
          <br />
          <AddPage onAdded={state.toggleOpen} />
        </>
      }
    />
  )
}
