/** The search part of the address with which each place of a site was last looked at, kept for the browser tab. */
const storeKey = (siteId: number, path: string): string => `look:${siteId}:${path}`

export function keepLook(siteId: number, path: string, search: string): void {
  const params = new URLSearchParams(search)
  // The market is the reader's, not the place's; dialogs are not come back to.
  for (const name of ['market', 'import', 'times']) params.delete(name)
  sessionStorage.setItem(storeKey(siteId, path), params.toString())
}

/** Where a place of a site was left, in a market. */
export function lastLook(siteId: number, path: string, marketId: number): string {
  const params = new URLSearchParams(sessionStorage.getItem(storeKey(siteId, path)) ?? '')
  params.set('market', String(marketId))
  return `/${siteId}/${path}?${params}`
}
