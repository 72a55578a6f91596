import { pageAddress } from '@dew-trail/core/links/page-address'
import { registrableDomain } from '@dew-trail/core/links/registrable-domain'
import { parse } from 'tldts'

/** A seed that is a site (`clay.example`) or a page (`https://clay.example/wheels`). `page` is null for a whole site. */
export type AddressSeed = { seed: string; domain: string; page: string | null }

/** Reads a seed as an address, or gives `null` when it is a phrase. A bare name counts only with an ending that domains have. */
export function readAddressSeed(text: string): AddressSeed | null {
  const bare = text.trim()
  if (/\s/.test(bare)) return null
  const hasScheme = /^https?:\/\//i.test(bare)
  const address = pageAddress(hasScheme ? bare : `https://${bare}`)
  if (!address) return null
  const url = new URL(address)
  const name = parse(url.hostname)
  if (name.isIp || !name.publicSuffix || !name.domain) return null
  if (!hasScheme && !name.isIcann && name.publicSuffix !== 'example') return null
  const domain = registrableDomain(address)
  const whole = url.pathname === '/' && !url.search
  return whole
    ? { seed: domain, domain, page: null }
    : { seed: address.replace(/^https?:\/\//, ''), domain, page: address }
}
