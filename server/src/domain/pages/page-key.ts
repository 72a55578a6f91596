import { registrableDomain } from '@dew-trail/core/links/registrable-domain'
import { pageIdentity } from '@dew-trail/core/web/page-identity'
import { createMD5 } from 'hash-wasm'

/** Of short texts it makes three a time in which Node's own makes one. */
const md5 = await createMD5()

/** Key of an address or text: its MD5 as a UUID. */
export function textKey(text: string): string {
  const hex = md5.init().update(text).digest('hex')
  return `${hex.slice(0, 8)}-${hex.slice(8, 12)}-${hex.slice(12, 16)}-${hex.slice(16, 20)}-${hex.slice(20)}`
}

/** The same key as its 16 bytes, of a text given as UTF-8. */
export const textDigest = (bytes: Uint8Array): Uint8Array => md5.init().update(bytes).digest('binary')

/** Key of a page: the MD5 of its identity as a UUID; `null` for what is no address of a page. */
export function pageKey(url: string): string | null {
  const identity = pageIdentity(url)
  return identity === null ? null : textKey(identity)
}

/** The site of an address: its registrable domain, or its host where there is none. */
export const domainOf = (url: string): string => registrableDomain(hostOf(url))
function hostOf(url: string): string {
  const from = url.indexOf('//') + 2
  const end = url.indexOf('/', from)
  return end < 0 ? url.slice(from) : url.slice(from, end)
}
