import { createPage } from '@dew-trail/contract/plan'
import { useCallback, useMemo } from 'react'
import { Link } from 'react-router'
import { call } from '../../api/call.ts'
import { useSite } from '../../ui/site-context.ts'
import { useAct } from '../../ui/use-act.ts'
import { plainView } from '../../sheet/plain-view.ts'
import type { Row } from '../../rows/row-source.ts'
import { SumText } from '../../sheet/SumText.tsx'
import { TableScreen } from '../../sheet/TableScreen.tsx'
import { useRowsInWorker } from '../../sheet/use-rows-in-worker.ts'
import { useSheetState } from '../../sheet/use-sheet-state.ts'
import { PageDetails } from './PageDetails.tsx'
import { planBatch, planSpecs } from '@dew-trail/contract/plan-table'
import { planColumns } from './plan-columns.tsx'
import { usePlan } from './use-plan.ts'
import { usePlanMenu } from './use-plan-menu.ts'

const sumColumns = ['searches', 'visits']
const shippedViews = [
  plainView('All of them', 'deadline'),
  plainView('Late', 'deadline', 'late:yes'),
  plainView('To be written', 'deadline', 'state:is:idea|writing'),
  plainView('Most visits to expect', '-visits'),
]

export default function PlanScreen() {
  const { site, market } = useSite()
  const { pages, error } = usePlan()
  const batch = useMemo(() => (pages ? planBatch(pages) : null), [pages])
  const source = useRowsInWorker(planSpecs, batch)
  const state = useSheetState('deadline')
  const act = useAct()
  const byId = useMemo(() => new Map(pages?.map(page => [page.id, page])), [pages])
  const unfold = useCallback(
    (row: Row) => {
      const page = byId.get(row.id)
      return page ? <PageDetails key={page.id} page={page} /> : null
    },
    [byId],
  )
  const rowActions = usePlanMenu(byId)
  const late = pages?.filter(page => page.late).length ?? 0
  const add = () =>
    act(async () => {
      const { id } = await call(createPage, { siteId: site.id, title: 'New page' })
      state.toggleOpen(id)
    })
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
      actions={
        <button type="button" className="link" onClick={add}>
          Add a page
        </button>
      }
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
            <SumText sum={sums.visits!} of="visits/mo expected" about />
          </span>
        </>
      )}
      none={
        <>
          <h2>No page is planned yet</h2>
          <p>
            Select keywords in Weigh that one page can answer and press P. Each page gathers the searches and the visits
            to expect, a deadline and a state.
          </p>
          <Link className="link" to={`/${site.id}/weigh?market=${market.id}`}>
            Go to Weigh
          </Link>
        </>
      }
    />
  )
}
