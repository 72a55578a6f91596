import { keywordColumns, keywordRowsPath } from '@dew-trail/contract/gather'
import { listSites, type Market, type Site } from '@dew-trail/contract/sites'
import type { ColumnSpec } from '@dew-trail/core/tables/column-spec'
import { familyOnce } from '@dew-trail/core/tables/once-by'
import { call } from '../api/call.ts'
import { WorkerSource } from '../rows/worker-source.ts'

/** A site's keywords of a market in a worker of their own, which begins to load them at once. */
const openKeywords = (siteId: number, marketId: number): WorkerSource =>
  new WorkerSource(
    keywordColumns as readonly ColumnSpec[],
    since => keywordRowsPath(siteId, marketId, since),
    // What was pruned from the path is not shown; one figure of a whole family is summed once.
    { always: [{ column: 'pruned', op: 'no' }], onceBy: { ...familyOnce, group: 'figures' } },
  )

/** The site that an address names, else the first. */
export const siteAt = (sites: Site[], siteId: string | undefined): Site | undefined =>
  sites.find(each => each.id === Number(siteId)) ?? sites[0]
/** The market that an address names, else the site's first. */
export const marketAt = (site: Site, params: URLSearchParams): Market =>
  site.markets.find(each => each.id === Number(params.get('market'))) ?? site.markets[0]!

type Opened = { key: string; source: WorkerSource }
let earlySites: Promise<Site[]> | null = null
let earlySource: Opened | null = null
const keyOf = (siteId: number, marketId: number): string => `${siteId}:${marketId}`

/**
 * Asks for the sites, and for the keywords of the one that the address names, before the rest of the program is read: reading and first
 * drawing it takes as long as 100,000 rows take to come, and goes on beside it.
 */
export function beginEarly(address: { pathname: string; search: string }): void {
  earlySites = call(listSites, {})
  earlySites.then(
    sites => {
      const site = siteAt(sites, address.pathname.split('/')[1])
      if (!site) return
      const market = marketAt(site, new URLSearchParams(address.search))
      earlySource = { key: keyOf(site.id, market.id), source: openKeywords(site.id, market.id) }
    },
    // Who takes the sites hears of it.
    () => undefined,
  )
}

/** The sites: those asked for early, the first time. */
export function takeSites(): Promise<Site[]> {
  const early = earlySites
  earlySites = null
  return early ?? call(listSites, {})
}

/** A site's keywords: those opened early, the first time. Close them when they are no longer shown. */
export function takeKeywords(siteId: number, marketId: number): WorkerSource {
  const opened = earlySource
  earlySource = null
  if (opened?.key === keyOf(siteId, marketId)) return opened.source
  opened?.source.close()
  return openKeywords(siteId, marketId)
}
