import { pageIdentity } from './page-identity.ts'

/**
 * Host (lower case, without port) and path (empty or from "/" on) of a typed or pasted address with or without its scheme; `null` for what
 * is none. Knows no public suffixes, so that browsers can check what is typed without their list. O(length).
 */
export function typedAddress(text: string): { host: string; path: string } | null {
  const typed = text.trim().replace(/^[a-z]+:\/\//i, '')
  if (!typed || /\s/.test(typed)) return null
  const slash = typed.indexOf('/')
  const host = (slash < 0 ? typed : typed.slice(0, slash)).toLowerCase().replace(/:\d+$/, '')
  if (!/^(?!-)[\p{L}\p{N}-]+(\.[\p{L}\p{N}-]+)+$/u.test(host)) return null
  const path = slash < 0 ? '' : typed.slice(slash)
  return pageIdentity(`https://${host}${path || '/'}`) === null ? null : { host, path }
}

/** A typed address in one form, so that two ways to write it are told to be one: a host without `www.`, a folder with its `*`, else as typed. */
export function tidyTypedAddress(text: string): string | null {
  const address = typedAddress(text)
  if (address === null) return null
  const { host, path } = address
  if (path === '' || path === '/*') return host.replace(/^www\.(?=[^.]+\.)/, '')
  return path.length > 1 && path.endsWith('/') ? `${host}${path}*` : `${host}${path}`
}
