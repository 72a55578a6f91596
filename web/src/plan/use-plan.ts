import { listPages, type PlannedPage } from '@dew-trail/contract/plan'
import { useQuery } from '@tanstack/react-query'
import { call } from '../api/call.ts'
import { today } from '../format.ts'
import { useSite } from '../shell/site-context.ts'

export function usePlan(): { pages: PlannedPage[] | undefined; error: Error | null } {
  const { site, market } = useSite()
  const { data, error } = useQuery({
    queryKey: ['pages', site.id, market.id],
    queryFn: () => call(listPages, { siteId: site.id, marketId: market.id, today: today() }),
  })
  return { pages: data, error }
}
