/**
 * The last checked day that the user saw in Track before this session, null where this is the first visit; `seen` becomes the last one seen.
 * It stays the same as long as the browser's tab is open, so that coming back does not empty what happened.
 */
export function sinceVisit(siteId: number, marketId: number, seen: string): string | null {
  const key = `track-visit:${siteId}:${marketId}`
  const session = sessionStorage.getItem(key)
  const before = session ?? localStorage.getItem(key) ?? ''
  if (session === null) sessionStorage.setItem(key, before)
  localStorage.setItem(key, seen)
  return before && before < seen ? before : null
}
