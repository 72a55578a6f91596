import { createPage } from '@dew-trail/contract/plan'
import { lazy, type ReactNode } from 'react'
import { call } from '../../api/call.ts'
import { ActButton } from '../../ui/ActButton.tsx'
import { useShowDialog } from '../../ui/DialogHost.tsx'
import { useSite } from '../../ui/site-context.ts'
import { TabBar } from '../../ui/TabBar.tsx'
import { setParam, useAddress } from '../../ui/use-address.ts'
import { type Tab, tabs } from './plan-words.ts'

const HandOverDialog = lazy(() => import('./HandOverDialog.tsx'))
const CalendarLinkDialog = lazy(() => import('./CalendarLinkDialog.tsx'))
/** What of the address belongs to one part of Plan alone. */
const ofOneTab = ['find', 'flag', 'page', 'of', 'amount', 'months', 'week', 'day']

/** What of the plan is shown, and what can be done with it as a whole. `children` stand before these. */
export function PlanBar({ see, children }: { see: Tab; children?: ReactNode }) {
  const show = useShowDialog()
  return (
    <div className="bar" role="toolbar" aria-label="Plan">
      {children}
      <TabBar tabs={tabs} see={see} forget={ofOneTab} />
      <div className="bar-end" style={{ marginLeft: 24 }}>
        <AddPage />
        <button
          type="button"
          className="link"
          onClick={() => show(close => <CalendarLinkDialog onClose={close} />)}
          title="Deadlines for a program that shows calendars"
        >
          Subscribe
        </button>
        <button type="button" className="link" onClick={() => show(close => <HandOverDialog onClose={close} />)}>
          Hand over
        </button>
      </div>
    </div>
  )
}

/** Plans a page without a keyword yet and opens it. */
export function AddPage({ onAdded }: { onAdded?: (pageId: number) => void }) {
  const { site } = useSite()
  const [, change] = useAddress()
  return (
    <ActButton
      onAct={async () => {
        const { id, actId } = await call(createPage, { siteId: site.id, title: 'New page' })
        if (onAdded) onAdded(id)
        else
          change(params => {
            params.delete('see')
            setParam('page', String(id))(params)
          }, true)
        return { say: 'A page is planned; give it a name and keywords', actId }
      }}
    >
      Add a page
    </ActButton>
  )
}
