import type { KnownPages } from './neighbour-residuals.ts'

/** Results below this place tell less of what it takes to reach the first page, and more of chance. */
const tellingResults = 25
/** Two addresses on two pages each are no spread to speak of. */
const fewestRepeated = 30
/** However much pages differ, some doubt is left. */
const mostShare = 0.75

/**
 * Share (0–0.75) of what strengths do not tell of results that stays with the page whatever the keyword, such as how well it is made: the
 * same addresses show it at one keyword after another. By analysis of variance with addresses as groups of unequal size (one-way random
 * effects; Searle 1971): between / (between + within). 0 where fewer than 30 addresses stand on several pages. O(results known).
 */
export function pageShare({ addresses, pages }: KnownPages): number {
  const shown: number[][] = addresses.map(() => [])
  for (const { at, beyond } of pages)
    for (const [i, address] of at.slice(0, tellingResults).entries()) shown[address]!.push(beyond[i]!)
  const groups = shown.filter(list => list.length > 1)
  if (groups.length < fewestRepeated) return 0
  const count = groups.reduce((sum, list) => sum + list.length, 0)
  const mean = (list: readonly number[]): number => list.reduce((sum, each) => sum + each, 0) / list.length
  const all = mean(groups.flat())
  let [between, within, squares] = [0, 0, 0]
  for (const list of groups) {
    const own = mean(list)
    between += list.length * (own - all) ** 2
    for (const each of list) within += (each - own) ** 2
    squares += list.length ** 2
  }
  within /= count - groups.length
  const size = (count - squares / count) / (groups.length - 1)
  const ofPage = Math.max(0, (between / (groups.length - 1) - within) / size)
  return ofPage + within > 0 ? Math.min(mostShare, ofPage / (ofPage + within)) : 0
}
