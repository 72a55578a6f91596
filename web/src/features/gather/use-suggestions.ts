import { suggestSeeds } from '@dew-trail/contract/gather'
import { useEffect, useState } from 'react'
import { useEndpoint } from '../../api/use-endpoint.ts'
import { useSite } from '../../ui/site-context.ts'

/** Typing goes on within this time. */
const pauseMs = 300
const nothing = { phrases: [], problem: null }

/** What searchers type after `typed`, once it was not changed for a moment; nothing for one letter or none. */
export function useSuggestions(typed: string) {
  const { site, market } = useSite()
  const [settled, setSettled] = useState('')
  useEffect(() => {
    const timer = setTimeout(() => setSettled(typed), pauseMs)
    return () => clearTimeout(timer)
  }, [typed])
  const wanted = settled === typed && settled.length > 1
  const { data } = useEndpoint(
    suggestSeeds,
    { siteId: site.id, marketId: market.id, typed: settled },
    { enabled: wanted, staleTime: 600_000, retry: false },
  )
  return wanted && data ? { ...data, phrases: data.phrases.filter(each => each.phrase !== typed) } : nothing
}
