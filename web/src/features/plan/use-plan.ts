import { useEndpoint } from '../../api/use-endpoint.ts'
import { listPages, type PlannedPage } from '@dew-trail/contract/plan'
import { today } from '../../ui/format.ts'
import { useSite } from '../../ui/site-context.ts'

export function usePlan(): { pages: PlannedPage[] | undefined; error: Error | null } {
  const { site, market } = useSite()
  const { data, error } = useEndpoint(listPages, { siteId: site.id, marketId: market.id, today: today() })
  return { pages: data, error }
}
