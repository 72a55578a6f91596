import { listPages, type PlannedPage } from '@dew-trail/contract/plan'
import { useMemo } from 'react'
import { useEndpoint } from '../../api/use-endpoint.ts'
import { today } from '../../ui/format.ts'
import { useSite } from '../../ui/site-context.ts'

const none: ReadonlyMap<number, PlannedPage> = new Map()

export function usePlan(): {
  pages: PlannedPage[] | undefined
  byId: ReadonlyMap<number, PlannedPage>
  error: Error | null
} {
  const { site, market } = useSite()
  const { data, error } = useEndpoint(listPages, { siteId: site.id, marketId: market.id, today: today() })
  const byId = useMemo(() => (data ? new Map(data.map(page => [page.id, page])) : none), [data])
  return { pages: data, byId, error }
}
