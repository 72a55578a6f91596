import { listPositions } from '@dew-trail/contract/track'
import { trackBatch, trackSpecs } from '@dew-trail/contract/track-table'
import { familyOnce } from '@dew-trail/core/tables/once-by'
import { sortText } from '@dew-trail/core/tables/condition-text'
import { useMemo, useState } from 'react'
import { useEndpoint } from '../../api/use-endpoint.ts'
import { firstRows } from '../../api/use-first-rows.ts'
import { useRowsInWorker } from '../../sheet/use-rows-in-worker.ts'
import type { SheetState } from '../../sheet/use-sheet-state.ts'
import { useSite } from '../../ui/site-context.ts'
import { trackColumns } from './track-columns.tsx'

/** By which the rows that come first are the first of all. */
export const firstOrder = 'now'

/**
 * Positions of a market against those of some days before, as rows of a sheet, with the columns that its markets and rivals give. Where all
 * rows are looked at by their position the best are asked for first, so that the screen is full while the others come (`coming`).
 */
export function usePositionRows(compareDays: number, { where, sort }: Pick<SheetState, 'where' | 'sort'>) {
  const { site, market } = useSite()
  const input = { siteId: site.id, marketId: market.id, compareDays }
  const [isPlain] = useState(where.length === 0 && sortText(sort) === firstOrder)
  const first = useEndpoint(listPositions, { ...input, most: firstRows }, { enabled: isPlain })
  const here = first.data && !first.isPlaceholderData ? first.data : null
  const isWhole = here !== null && here.rows.length === here.total
  const enabled = !isPlain || first.isError || (here !== null && !isWhole)
  const all = useEndpoint(listPositions, input, { enabled })
  // What is kept on the screen of another market or comparison gives way to the first rows of this one.
  const whole = all.isPlaceholderData && here ? undefined : all.data
  const data = isWhole ? here : (whole ?? first.data)
  const error = isPlain && !first.isError && !enabled ? null : all.error
  const coming = data !== undefined && data.rows.length < data.total
  // Kept by their names: answers come anew with every check, columns only with other rivals.
  const rivalNames = (data?.rivals ?? []).map(each => each.domain).join(' ')
  const rivals = useMemo(() => rivalNames.split(' ').filter(Boolean), [rivalNames])
  const specs = useMemo(() => trackSpecs(site.markets, rivals), [site.markets, rivals])
  const batch = useMemo(() => (data ? trackBatch(data, site.markets, market) : null), [data, site.markets, market])
  const source = useRowsInWorker(specs, batch, familyOnce)
  const columns = useMemo(() => trackColumns(market, site.markets, rivals), [market, site.markets, rivals])
  return { data, error, coming, source, columns }
}
