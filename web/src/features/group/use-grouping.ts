import { type Grouping, type GroupMethod, groupMethods, listGroupings, readGrouping } from '@dew-trail/contract/group'
import { useMemo } from 'react'
import { useEndpoint } from '../../api/use-endpoint.ts'
import { useSite } from '../../ui/site-context.ts'
import { useAddress } from '../../ui/use-address.ts'

export const tabs = {
  themes: 'Themes',
  keywords: 'Keywords',
  competing: 'Competing pages',
  check: 'Check',
  beside: 'Beside another',
} as const
export type Tab = keyof typeof tabs

export type Choice = { threshold: number; method: GroupMethod }
/** The grouping that is looked at: what the address names, else the current one of the market, else the newest. */
export function useGroupings() {
  const { site, market } = useSite()
  const [params] = useAddress()
  const { data, error } = useEndpoint(listGroupings, { siteId: site.id, marketId: market.id })
  const wanted = Number(params.get('grouping'))
  const grouping = data?.find(each => each.id === wanted) ?? data?.find(each => each.current) ?? data?.[0] ?? null
  return { groupings: data, grouping, error }
}

/** What is known of a grouping, and the choice that is looked at; null where that is what is kept. */
export function useGrouping(grouping: Grouping) {
  const { site } = useSite()
  const [params] = useAddress()
  const one = useMemo(() => ({ siteId: site.id, groupingId: grouping.id }), [site.id, grouping.id])
  const { data, error } = useEndpoint(readGrouping, one, { keep: true })
  const number = Number(params.get('threshold'))
  const threshold = Number.isInteger(number) && number >= 1 && number <= 9 ? number : grouping.threshold
  const named = params.get('method') as GroupMethod | null
  const method = named && groupMethods.includes(named) ? named : grouping.method
  const asChosen = params.has('threshold') || params.has('method')
  const isKept = grouping.basis === 'results' && threshold === grouping.threshold && method === grouping.method
  const choice = useMemo<Choice | null>(
    () => (asChosen && !isKept ? { threshold, method } : null),
    [asChosen, isKept, threshold, method],
  )
  return { one, about: data, error, choice, threshold, method }
}
