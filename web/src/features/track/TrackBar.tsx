import { listAlerts } from '@dew-trail/contract/alerts'
import type { ReactNode } from 'react'
import { useEndpoint } from '../../api/use-endpoint.ts'
import { formatWhole } from '../../ui/format.ts'
import { useSite } from '../../ui/site-context.ts'
import { TabBar } from '../../ui/TabBar.tsx'

export const tabs = {
  positions: 'Positions',
  changes: 'What happened',
  voice: 'Share of voice',
  pages: 'Own pages',
  alerts: 'Alerts',
  sites: 'All sites',
} as const

/** What of tracking is shown. `children` stand before. */
export function TrackBar({ see, children }: { see: keyof typeof tabs; children?: ReactNode }) {
  const { site } = useSite()
  const { data } = useEndpoint(listAlerts, { siteId: site.id })
  const shown = data?.unread ? { ...tabs, alerts: `Alerts (${formatWhole(data.unread)})` } : tabs
  return (
    <div className="bar" role="toolbar" aria-label="Track">
      {children}
      <TabBar tabs={shown} see={see} />
    </div>
  )
}
