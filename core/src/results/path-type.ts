import type { SeenResult } from './term-coverage.ts'

/** The results that tell what kind of page is wanted. */
const tellingResults = 10

/**
 * How many of the other first ten results stand where each does in its site, 0–100: at its root (the home page), right below it, or in a
 * section of the same name, such as a shop or guides; a language in front, such as `/en/`, does not count. 50 is the mean of the first
 * ten. O(results).
 */
export function pathTypeShares(results: readonly Pick<SeenResult, 'url'>[]): number[] {
  const kinds = results.map(({ url }) => pathTypeOf(url))
  const telling = Math.min(tellingResults, kinds.length)
  const having = new Map<string, number>()
  for (const kind of kinds.slice(0, telling)) having.set(kind, (having.get(kind) ?? 0) + 1)
  const shares = kinds.map((kind, i) => {
    const self = i < telling ? 1 : 0
    return telling > self ? ((having.get(kind) ?? 0) - self) / (telling - self) : 0
  })
  const usual = shares.slice(0, telling).reduce((sum, each) => sum + each, 0) / telling
  // Where no two stand alike, it tells nothing.
  return shares.map(share => (usual > 0 ? Math.min(100, (50 * share) / usual) : 50))
}

/** Where a page stands in its site: `/` the home page, the name of its section, '' right below the root. */
export function pathTypeOf(url: string): string {
  const path = /^[a-z]+:\/\/[^/?#]*([^?#]*)/i.exec(url)?.[1] ?? url
  const parts = path.toLowerCase().split('/').filter(Boolean)
  if (parts[0] && /^[a-z]{2}(-[a-z]{2})?$/.test(parts[0])) parts.shift()
  return parts.length === 0 ? '/' : parts.length === 1 ? '' : parts[0]!
}
