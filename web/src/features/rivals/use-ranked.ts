import { listRankedKeywords, mostListed } from '@dew-trail/contract/rivals'
import { conditionText, sortText } from '@dew-trail/core/tables/condition-text'
import { useEffect, useState } from 'react'
import { useEndpoint } from '../../api/use-endpoint.ts'
import { firstRows } from '../../api/use-first-rows.ts'
import type { SheetState } from '../../sheet/use-sheet-state.ts'
import { useSite } from '../../ui/site-context.ts'

const typingMs = 300

/**
 * The keywords of a target: the first rows at once, then all. Of a target with more than are listed, conditions and order are asked of the
 * server, so that they hold for all of its keywords and not for those that happen to be here. `coming`: the rest is under way.
 */
export function useRanked(target: string, state: SheetState) {
  const { site, market } = useSite()
  const input = { siteId: site.id, marketId: market.id, target }
  const first = useEndpoint(listRankedKeywords, { ...input, most: firstRows })
  const total = first.data?.total ?? 0
  const sifted = useRested({ where: state.where.map(conditionText), sort: sortText(state.sort) })
  const all = useEndpoint(
    listRankedKeywords,
    total > mostListed ? { ...input, where: sifted.where, sort: sifted.sort } : input,
    { enabled: total > firstRows, keep: true },
  )
  const rest = all.data?.target === target ? all.data : undefined
  return {
    data: rest ?? first.data,
    error: first.error ?? all.error,
    coming: total > firstRows && !rest,
  }
}

/** A value once it has not changed for a moment. */
function useRested<Value>(value: Value): Value {
  const text = JSON.stringify(value)
  const [rested, setRested] = useState(text)
  useEffect(() => {
    const timer = setTimeout(() => setRested(text), typingMs)
    return () => clearTimeout(timer)
  }, [text])
  return JSON.parse(rested) as Value
}
