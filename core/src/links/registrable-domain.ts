import { getDomain, getHostname } from 'tldts'

/**
 * The registrable domain of an address or a host name: the part that one owner has, by the public suffix list with its private part, so
 * that what is let to others (`kiln.github.io`) is a site of its own. A host that has none (an address by number, a name of one word, a
 * suffix itself) stands for itself. This alone decides which pages are of one site, here and in the database's sums. O(length).
 */
export function registrableDomain(address: string): string {
  return getDomain(address, { allowPrivateDomains: true }) ?? getHostname(address) ?? address
}
