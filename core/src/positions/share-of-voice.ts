/** A result of a tracked keyword: who stands there and the visits a month that come of it. */
export type VoiceResult = { keyword: number; site: string; position: number; visits: number }
export type SiteVoice = {
  site: string
  visits: number
  /** Of all visits that the results give, 0–1. */
  share: number
  /** Keywords for which the site's best result stands within so many. */
  within3: number
  within10: number
  within20: number
}

/**
 * What part of the visits of keywords each site gets, most first; equal ones by name. Several results of a site for a keyword all bring
 * visits, and count as one keyword by the best. Nothing where the results give no visits. O(results).
 */
export function shareOfVoice(results: readonly VoiceResult[]): SiteVoice[] {
  const sites = new Map<string, { visits: number; best: Map<number, number> }>()
  let all = 0
  for (const { keyword, site, position, visits } of results) {
    let known = sites.get(site)
    if (!known) sites.set(site, (known = { visits: 0, best: new Map() }))
    known.visits += visits
    known.best.set(keyword, Math.min(position, known.best.get(keyword) ?? position))
    all += visits
  }
  if (all <= 0) return []
  return [...sites]
    .map(([site, { visits, best }]) => {
      const within = (most: number): number => [...best.values()].filter(position => position <= most).length
      return { site, visits, share: visits / all, within3: within(3), within10: within(10), within20: within(20) }
    })
    .sort((a, b) => b.visits - a.visits || (a.site < b.site ? -1 : 1))
}

/** The shares alone, by site, 0–1; empty where the results give no visits. O(results), a good deal faster than all of it. */
export function visitShares(results: Iterable<Pick<VoiceResult, 'site' | 'visits'>>): Map<string, number> {
  const visitsOf = new Map<string, number>()
  let all = 0
  for (const { site, visits } of results) {
    visitsOf.set(site, (visitsOf.get(site) ?? 0) + visits)
    all += visits
  }
  if (all <= 0) return new Map()
  for (const [site, visits] of visitsOf) visitsOf.set(site, visits / all)
  return visitsOf
}
