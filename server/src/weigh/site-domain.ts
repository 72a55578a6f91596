import { getDomain } from 'tldts'

/** Registrable domain of an address (public suffix list), else its host, else the text itself. */
export function siteDomain(url: string): string {
  const known = getDomain(url, { allowPrivateDomains: false })
  if (known) return known
  try {
    return new URL(url).hostname
  } catch {
    return url
  }
}
