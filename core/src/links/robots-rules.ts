/** What robots.txt says to one crawler: whether it may ask for an address, its wait in seconds if one is named, and the site's sitemaps. */
export type RobotsRules = {
  allows(address: string): boolean
  crawlDelay: number | null
  sitemaps: string[]
}

/** RFC 9309: at least 500 kibibytes must be parsed; what comes after is left. */
const mostChars = 500 * 1024

type Rule = { pattern: string; allow: boolean }
type Group = { agents: string[]; rules: Rule[]; delay: number | null }

/**
 * Reads robots.txt (RFC 9309) for a crawler by its product token. Groups that name it are taken together, else those for all. Of the
 * rules that match, the longest counts, an allowing one among equals. Sitemap and Crawl-delay belong to no rules and part no groups.
 * Anything that is no known line is passed over. O(length), and O(rules × address) a question.
 */
export function readRobots(text: string, token: string): RobotsRules {
  const groups: Group[] = []
  const sitemaps: string[] = []
  let group: Group | null = null
  let naming = false
  for (const line of text
    .slice(0, mostChars)
    .replace(/^\ufeff/, '')
    .split(/\r\n|\n|\r/)) {
    const bare = line.replace(/#.*$/s, '')
    const colon = bare.indexOf(':')
    if (colon < 0) continue
    const key = bare.slice(0, colon).trim().toLowerCase()
    const value = bare.slice(colon + 1).trim()
    if (key === 'user-agent') {
      if (!group || !naming) groups.push((group = { agents: [], rules: [], delay: null }))
      group.agents.push(agentOf(value))
      naming = true
    } else if (key === 'sitemap') {
      // A fragment mark is no remark there.
      sitemaps.push(line.slice(line.indexOf(':') + 1).trim())
    } else if (!group) continue
    else if (key === 'crawl-delay') {
      if (/^\d+(\.\d+)?$/.test(value)) group.delay ??= Number(value)
    } else if (key === 'allow' || key === 'disallow') {
      naming = false
      if (/^[/*$]/.test(value)) group.rules.push({ pattern: canonicalPattern(value), allow: key === 'allow' })
    }
  }
  const named = groups.filter(each => each.agents.includes(token.toLowerCase()))
  const ours = named.length ? named : groups.filter(each => each.agents.includes('*'))
  const rules = ours.flatMap(each => each.rules).sort((a, b) => b.pattern.length - a.pattern.length)
  return {
    crawlDelay: ours.find(each => each.delay !== null)?.delay ?? null,
    sitemaps,
    allows(address) {
      const path = canonicalPath(address)
      if (path === '/robots.txt') return true
      let best = -1
      let allow = true
      for (const rule of rules) {
        if (rule.pattern.length < best) break
        if (!(rule.pattern.length === best && allow) && matches(rule.pattern, path)) {
          best = rule.pattern.length
          allow = rule.allow
        }
      }
      return allow
    },
  }
}

/** The product token that a line names: letters, underscores and hyphens; text behind it, such as a version, says nothing. */
const agentOf = (value: string): string =>
  value.startsWith('*') ? '*' : (/^[a-z_-]+/i.exec(value)?.[0] ?? '').toLowerCase()

// URL is there in browsers, workers and Node alike, but not in the language's own types.
declare class URL {
  constructor(url: string)
  readonly pathname: string
  readonly search: string
}
const canonicalPath = (address: string): string => {
  const { pathname, search } = new URL(address)
  return canonical(pathname + search, false)
}
/** `*` and a `$` at the end keep their meaning; all else becomes as addresses are written. */
const canonicalPattern = (pattern: string): string => canonical(pattern, true)

/**
 * One way to write a path, so that escaped and plain forms are equal: letters, digits, "-", ".", "_", "~" and slashes of the path plain,
 * everything else as UTF-8 in capital escapes. An escaped slash stays another thing than a slash, but in a query, where both are data.
 */
function canonical(text: string, isPattern: boolean): string {
  let out = ''
  let inQuery = false
  for (let i = 0; i < text.length; i++) {
    const char = text[i]!
    const escaped = char === '%' ? /^%([0-9a-f]{2})/i.exec(text.slice(i, i + 3))?.[1] : undefined
    if (escaped !== undefined) {
      const plain = String.fromCharCode(Number.parseInt(escaped, 16))
      out += /[\w.~-]/.test(plain) ? plain : `%${escaped.toUpperCase()}`
      i += 2
    } else if (isPattern && (char === '*' || (char === '$' && i === text.length - 1))) out += char
    else if (/[\w.~-]/.test(char) || (char === '/' && !inQuery)) out += char
    else if (char === '?' && !inQuery) {
      out += char
      inQuery = true
    } else {
      const point = text.codePointAt(i)!
      if (point > 0xffff) i++
      out += escapesOf(point)
    }
  }
  return out
}

/** UTF-8 of a character in escapes. */
function escapesOf(point: number): string {
  const bytes =
    point < 0x80
      ? [point]
      : point < 0x800
        ? [0xc0 | (point >> 6), 0x80 | (point & 63)]
        : point < 0x10000
          ? [0xe0 | (point >> 12), 0x80 | ((point >> 6) & 63), 0x80 | (point & 63)]
          : [0xf0 | (point >> 18), 0x80 | ((point >> 12) & 63), 0x80 | ((point >> 6) & 63), 0x80 | (point & 63)]
  return bytes.map(byte => `%${byte.toString(16).toUpperCase().padStart(2, '0')}`).join('')
}

/** Whether a pattern matches the beginning of a path, or all of it where it ends with `$`. Pieces between stars are found one after another. */
function matches(pattern: string, path: string): boolean {
  const whole = pattern.endsWith('$')
  const pieces = (whole ? pattern.slice(0, -1) : pattern).split('*')
  if (!path.startsWith(pieces[0]!)) return false
  let at = pieces[0]!.length
  if (pieces.length === 1) return !whole || at === path.length
  const last = pieces.length - 1
  for (let i = 1; i < last; i++) {
    const found = path.indexOf(pieces[i]!, at)
    if (found < 0) return false
    at = found + pieces[i]!.length
  }
  return whole
    ? path.length - pieces[last]!.length >= at && path.endsWith(pieces[last]!)
    : path.indexOf(pieces[last]!, at) >= 0
}
