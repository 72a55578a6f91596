import { registrableDomain } from '../links/registrable-domain.ts'
import { pageIdentity } from '../web/page-identity.ts'
import { typedAddress } from '../web/typed-address.ts'

/**
 * What of the web is looked at: a whole site, one host of it, a folder or a page. `match`: the registrable domain, the host, the start of
 * the page identities (host and path) or the page identity.
 */
export type Target = { kind: 'site' | 'host' | 'folder' | 'page'; domain: string; match: string }

/**
 * What a typed or pasted text looks at; `null` for what is no address. A name of a site is the site ("clay.example", also with "www."), any
 * other host is a host ("shop.clay.example"), a path that ends in "/" or "*" is a folder ("clay.example/guides/*"), any other path a page.
 * O(length).
 */
export function readTarget(text: string): Target | null {
  const address = typedAddress(text)
  if (address === null) return null
  const { host, path } = address
  const domain = registrableDomain(host)
  if (path === '' || path === '/*')
    return host === domain || host === `www.${domain}`
      ? { kind: 'site', domain, match: domain }
      : { kind: 'host', domain, match: host }
  if (path.length > 1 && (path.endsWith('*') || path.endsWith('/'))) {
    const start = pageIdentity(`https://${host}${path.replace(/\*$/, '')}`)
    return start === null ? null : { kind: 'folder', domain, match: start }
  }
  const identity = pageIdentity(`https://${host}${path}`)
  return identity === null ? null : { kind: 'page', domain, match: identity }
}
