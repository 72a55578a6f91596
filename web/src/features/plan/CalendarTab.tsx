import { changePage, type PlannedPage } from '@dew-trail/contract/plan'
import { lazy, Suspense } from 'react'
import { call } from '../../api/call.ts'
import { Waiting } from '../../api/Waiting.tsx'
import { formatDay } from '../../ui/format.ts'
import { JobLine } from '../../ui/JobLine.tsx'
import { ScreenTitle } from '../../ui/ScreenTitle.tsx'
import { useSite } from '../../ui/site-context.ts'
import { useAct } from '../../ui/use-act.ts'
import { setParam, useAddress } from '../../ui/use-address.ts'
import { keptText } from './kept-deadlines.ts'
import { PlanBar } from './PlanBar.tsx'
import { usePlan } from './use-plan.ts'

const DeadlineCalendar = lazy(() => import('./DeadlineCalendar.tsx'))

/** Deadlines by day; a page is dragged, or moved by Alt and the arrows, to another. Pages without a deadline wait at the side. */
export function CalendarTab() {
  const { site } = useSite()
  const { pages, error } = usePlan()
  const [params, change] = useAddress()
  const act = useAct()
  const work = pages?.filter(page => page.kind !== 'keep')
  const moveTo = (page: PlannedPage, deadline: string) => {
    if (page.deadline === deadline) return
    void act(async () => {
      const { actId } = await call(changePage, { siteId: site.id, pageId: page.id, version: page.version, deadline })
      return { say: `"${page.title}" is due ${formatDay(deadline)}`, actId }
    })
  }
  const open = (page: PlannedPage) =>
    change(all => {
      for (const name of ['see', 'week', 'day']) all.delete(name)
      setParam('page', String(page.id))(all)
    }, true)
  return (
    <main className="screen whole">
      <ScreenTitle title="Plan" />
      <div className="main">
        <PlanBar see="calendar">{work && <span className="quiet">{keptText(work)}</span>}</PlanBar>
        {work ? (
          <Suspense fallback={<p className="quiet">Loading</p>}>
            <DeadlineCalendar
              pages={work}
              week={params.has('week')}
              day={params.get('day')}
              onLook={(week, day) =>
                change(all => {
                  setParam('week', week ? '1' : null)(all)
                  setParam('day', day)(all)
                })
              }
              onMove={moveTo}
              onOpen={open}
            />
          </Suspense>
        ) : (
          <Waiting error={error} />
        )}
        <div className="foot">
          <span className="quiet">Drag a page to another day, or Alt ← → ↑ ↓ on it · Enter opens it</span>
          <div className="foot-end">
            <JobLine />
          </div>
        </div>
      </div>
    </main>
  )
}
