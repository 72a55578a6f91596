import { listGatherings } from '@dew-trail/contract/gather'
import { useMemo } from 'react'
import { useEndpoint } from '../api/use-endpoint.ts'
import type { SheetColumn } from '../sheet/columns.ts'
import { useSite } from '../ui/site-context.ts'
import { useLists } from './use-lists.ts'

/** Columns with what their values are called where that is of the site: seeds, shortlists and labels, so that they can be conditions. */
export function useNamedColumns(columns: readonly SheetColumn[]): readonly SheetColumn[] {
  const { site } = useSite()
  const { data: gatherings } = useEndpoint(listGatherings, { siteId: site.id })
  const { lists: shortlists } = useLists('shortlist')
  const { lists: labels } = useLists('label')
  return useMemo(() => {
    const values: Record<string, Array<{ value: string; label: string }>> = {
      gatherings: (gatherings ?? []).map(each => ({ value: String(each.id), label: each.seed })),
      lists: shortlists.map(each => ({ value: String(each.id), label: each.name })),
      labels: labels.map(each => ({ value: each.name, label: each.name })),
    }
    return columns.map(column => (values[column.key] ? { ...column, values: values[column.key]! } : column))
  }, [columns, gatherings, shortlists, labels])
}
