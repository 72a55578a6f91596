import { changeSite, listSites } from '@dew-trail/contract/sites'
import { freshDays } from '@dew-trail/contract/weigh'
import { useQueryClient } from '@tanstack/react-query'
import { call } from '../../api/call.ts'
import { askAgain } from '../../api/use-endpoint.ts'
import { useSite } from '../../ui/site-context.ts'
import { useAct } from '../../ui/use-act.ts'

/** Whether kept keywords are weighed again by themselves once their weighing is old. */
export function RefreshAtNight() {
  const { site } = useSite()
  const act = useAct()
  const client = useQueryClient()
  const refresh = (wanted: boolean) =>
    act(async () => {
      await call(changeSite, { siteId: site.id, refreshWeighings: wanted })
      await askAgain(client, listSites)
      return { say: wanted ? 'Old weighings are refreshed each night' : 'Weighings are refreshed only when you ask' }
    })
  return (
    <label
      className="quiet"
      style={{ display: 'inline-flex', gap: 6, alignItems: 'center' }}
      title={`Kept keywords weighed more than ${freshDays} days ago are weighed again, at half past two (UTC)`}
    >
      <input type="checkbox" checked={site.refreshWeighings} onChange={event => refresh(event.target.checked)} />
      Refresh old ones at night
    </label>
  )
}
