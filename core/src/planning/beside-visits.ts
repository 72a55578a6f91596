/** The strongest tenth, grown over years, is no measure of a page that is new. */
const shareKept = 0.9
/** Fewer own pages tell nothing of what the site's pages bring. */
const leastPages = 5

/**
 * What pages of a site get in visits a month from other keywords than those that bring them most: for a number of keywords to leave out,
 * one figure a page, lowest first, without the strongest tenth. `pages`: visits of each own page by keyword, known ones alone. Empty
 * where fewer than five pages are known, as a page that is planned will bring such visits too and nobody knows how many. O(visits log
 * visits).
 */
export function besideVisits(pages: ReadonlyArray<readonly number[]>): (without: number) => readonly number[] {
  const sorted = pages.filter(visits => visits.length > 0).map(visits => visits.toSorted((a, b) => b - a))
  const held = new Map<number, readonly number[]>()
  if (sorted.length < leastPages) return () => []
  return without => {
    let sums = held.get(without)
    if (!sums) {
      sums = sorted
        .map(visits => visits.slice(without).reduce((sum, each) => sum + each, 0))
        .sort((a, b) => a - b)
        .slice(0, Math.ceil(shareKept * sorted.length))
      held.set(without, sums)
    }
    return sums
  }
}
