import { listEngines } from '@dew-trail/contract/sources'
import type { Market } from '@dew-trail/contract/sites'
import { useMemo } from 'react'
import { useEndpoint } from '../api/use-endpoint.ts'

/**
 * The address of the page that an engine shows a person for a phrase, and the engine's name; null until it is known, and where the engine
 * has no page for people.
 */
export function useLivePage(market: Market): ((phrase: string) => { address: string; engine: string } | null) | null {
  const { data } = useEndpoint(listEngines, {})
  return useMemo(() => {
    const engine = data?.find(each => each.engine === market.engine)
    const page = engine?.page
    if (!engine || !page || !/^https?:/.test(page)) return null
    const { place, language, device } = market
    return phrase => {
      const given: Record<string, string> = { place, language, device, query: phrase }
      const address = page.replace(/\{(query|place|language|device)\}/g, (_, name: string) =>
        encodeURIComponent(given[name] ?? ''),
      )
      return { address, engine: engine.name }
    }
  }, [data, market])
}
