// URL (WHATWG URL standard) is there in browsers, workers and Node alike, but not in the language's own types.
declare class URL {
  constructor(url: string, base?: string)
  readonly href: string
  readonly protocol: string
  readonly hostname: string
  readonly pathname: string
  readonly search: string
  readonly username: string
  readonly password: string
  hash: string
}

/** Longest address that is taken for one: longer ones are mistakes or traps. */
export const longestAddress = 2_000

/** Addresses that the standard would write just as they are: no escapes, dot segments, ports, or hosts that may be numbers or foreign scripts. */
const settled =
  /^https?:\/\/(?!.*(?:\/\.|xn--))[a-z0-9](?:[a-z0-9-]*[a-z0-9])?(?:\.[a-z0-9](?:[a-z0-9-]*[a-z0-9])?)*\.[a-z]{2,}\/[\w/.~=&+-]*(?:\?[\w/.~=&+-]*)?$/

/**
 * The address a link leads to, or `null` for what a crawler cannot ask: other schemes, credentials, impossible or overlong text. Written
 * by the WHATWG URL standard (lower-case host, default port and dot segments gone) and without its fragment, so that two ways to write
 * one address compare equal. Example: `pageAddress('../a#top', 'http://X.example/b/c')` → `http://x.example/a`.
 */
export function pageAddress(href: string, base?: string): string | null {
  const text = href.trim()
  if (text.length > longestAddress) return null
  const whole = fromRoot(text, base)
  if (settled.test(whole)) return whole
  let url: URL
  try {
    url = new URL(text, base)
  } catch {
    return null
  }
  if ((url.protocol !== 'http:' && url.protocol !== 'https:') || !url.hostname || url.username || url.password)
    return null
  url.hash = ''
  return url.href.length > longestAddress ? null : url.href
}

/** A path from the root of its site written out with the site, any other text as it is; without a fragment. Most links of a page are such paths. */
function fromRoot(text: string, base: string | undefined): string {
  const mark = text.indexOf('#')
  const bare = mark < 0 ? text : text.slice(0, mark)
  if (base === undefined || !bare.startsWith('/') || bare.startsWith('//')) return bare
  const root = base.indexOf('/', base.indexOf('//') + 2)
  return root < 0 ? bare : base.slice(0, root) + bare
}

/** Readable words of an address's host-less part, for matching phrases: `/raku-kilns/small_ones.html` → "raku kilns small ones". */
export function addressWords(address: string): string {
  let path: string
  try {
    const url = new URL(address)
    path = url.pathname + url.search
  } catch {
    return ''
  }
  try {
    path = decodeURIComponent(path)
  } catch {
    // A percent sign that is no escape stands for itself.
  }
  return path
    .replace(/\.(html?|php|aspx?)\b/g, ' ')
    .replace(/[^\p{L}\p{N}]+/gu, ' ')
    .trim()
}
