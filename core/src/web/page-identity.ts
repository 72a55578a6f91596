import { pageAddress } from '../links/page-address.ts'

/** Query parameters that only say where a reader came from, by name; names that begin with `utm_` too. */
const tracking = new Set(['gclid', 'dclid', 'fbclid', 'msclkid', 'yclid', 'ttclid', 'mc_cid', 'mc_eid'])
const isTracking = (name: string): boolean => name.startsWith('utm_') || tracking.has(name)

/**
 * What makes two addresses one page, or `null` for what is no address of a page: the address by the WHATWG URL standard without scheme
 * and fragment, the host in lower case, tracking parameters dropped, all other parameters kept in their order. `http` and `https` are one
 * page; hosts with and without `www.` are two pages of one site. Each result and link keeps its address as written beside it.
 * Example: `pageIdentity('HTTPS://Clay.example/a?utm_source=x&b=1#top')` → `clay.example/a?b=1`. O(length).
 */
export function pageIdentity(url: string): string | null {
  const address = pageAddress(url)
  return address === null ? null : identityOfAddress(address)
}

/** The same of an address as `pageAddress` writes it, which is not read again. */
export function identityOfAddress(address: string): string {
  const bare = address.slice(address.indexOf('//') + 2)
  const mark = bare.indexOf('?')
  if (mark < 0) return bare
  const kept = bare
    .slice(mark + 1)
    .split('&')
    .filter(part => part && !isTracking(part.split('=', 1)[0]!.toLowerCase()))
  return kept.length ? `${bare.slice(0, mark)}?${kept.join('&')}` : bare.slice(0, mark)
}
