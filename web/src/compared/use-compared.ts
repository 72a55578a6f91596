import { listRivals } from '@dew-trail/contract/rivals'
import { mostSites } from '@dew-trail/core/rivals/regions'
import { useMemo } from 'react'
import { useEndpoint } from '../api/use-endpoint.ts'
import { useSite } from '../ui/site-context.ts'
import { setParam, useAddress } from '../ui/use-address.ts'

/** How many rivals are compared before somebody chooses. */
const atFirst = 3
export const rivalColours = [1, 2, 3, 4, 5].map(i => `var(--mui-palette-dew-rival${i})`)
export const ownColour = 'var(--mui-palette-dew-own)'
/** The colour of a compared site by its place among them; beyond five rivals the same colours come nearer to the ink. */
export function colourOf(at: number): string {
  if (at === 0) return ownColour
  const colour = rivalColours[(at - 1) % rivalColours.length]!
  return at > rivalColours.length ? `color-mix(in oklab, ${colour} 50%, var(--mui-palette-dew-ink))` : colour
}

/**
 * What is compared: the own site first, then what the address names; without a choice the accepted rivals, else those that take most
 * visits above the own site. `ready`: whether that is known yet.
 */
export function useCompared() {
  const { site, market } = useSite()
  const [params, change] = useAddress()
  const chosen = params.get('with')
  const found = useEndpoint(listRivals, { siteId: site.id, marketId: market.id }, { enabled: chosen === null })
  const rivals = useMemo(() => {
    if (chosen !== null)
      return chosen
        .split(',')
        .filter(Boolean)
        .slice(0, mostSites - 1)
    const known = found.data?.rivals ?? []
    const accepted = known.filter(each => each.state === 'accepted')
    const offered = accepted.length ? accepted : known.filter(each => each.state === 'proposed').slice(0, atFirst)
    return offered.slice(0, mostSites - 1).map(each => each.domain)
  }, [chosen, found.data])
  const targets = useMemo(() => [site.domain, ...rivals], [site.domain, rivals])
  return {
    targets,
    ready: chosen !== null || found.data !== undefined || found.error !== null,
    error: found.error,
    setRivals: (next: readonly string[]) => change(setParam('with', next.join(',')), true),
  }
}
