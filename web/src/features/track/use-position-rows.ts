import { listPositions } from '@dew-trail/contract/track'
import { trackBatch, trackSpecs } from '@dew-trail/contract/track-table'
import { familyOnce } from '@dew-trail/core/tables/once-by'
import { useMemo } from 'react'
import { useEndpoint } from '../../api/use-endpoint.ts'
import { useRowsInWorker } from '../../sheet/use-rows-in-worker.ts'
import { useSite } from '../../ui/site-context.ts'
import { trackColumns } from './track-columns.tsx'

/** Positions of a market against those of some days before, as rows of a sheet, with the columns that its markets and rivals give. */
export function usePositionRows(compareDays: number) {
  const { site, market } = useSite()
  const { data, error } = useEndpoint(listPositions, { siteId: site.id, marketId: market.id, compareDays })
  // Kept by their names: answers come anew with every check, columns only with other rivals.
  const rivalNames = (data?.rivals ?? []).map(each => each.domain).join(' ')
  const rivals = useMemo(() => rivalNames.split(' ').filter(Boolean), [rivalNames])
  const specs = useMemo(() => trackSpecs(site.markets, rivals), [site.markets, rivals])
  const batch = useMemo(() => (data ? trackBatch(data, site.markets, market) : null), [data, site.markets, market])
  const source = useRowsInWorker(specs, batch, familyOnce)
  const columns = useMemo(() => trackColumns(market, site.markets, rivals), [market, site.markets, rivals])
  return { data, error, source, columns }
}
