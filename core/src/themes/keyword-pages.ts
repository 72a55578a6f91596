/**
 * The first results of keywords, packed: those of keyword i are `pages[starts[i]]` to `pages[starts[i + 1] - 1]`, numbered from 0 and each
 * once. Keywords stand in the order in which they may lead a theme (`leadOrder`). A keyword without results has none.
 */
export type KeywordPages = { starts: Int32Array; pages: Int32Array; pageCount: number }

/** Packs the results of keywords, whatever their pages are named by. Doubles are left out. O(results). */
export function packPages(results: ReadonlyArray<readonly (string | number)[]>): KeywordPages {
  const numbers = new Map<string | number, number>()
  const starts = new Int32Array(results.length + 1)
  const pages: number[] = []
  for (const [i, list] of results.entries()) {
    for (const page of new Set(list)) {
      let number = numbers.get(page)
      if (number === undefined) numbers.set(page, (number = numbers.size))
      pages.push(number)
    }
    starts[i + 1] = pages.length
  }
  return { starts, pages: Int32Array.from(pages), pageCount: numbers.size }
}

/**
 * Places of keywords in the order in which they may lead: the most searched first, those whose searches are unknown last; without searches
 * (`byShared`) those that share most pages with others first. Ties by the order of the characters' codes, then as given.
 */
export function leadOrder(
  keywords: ReadonlyArray<{ phrase: string; searches: number | null }>,
  byShared?: ArrayLike<number>,
): number[] {
  const weight = (i: number): number => (byShared ? byShared[i]! : (keywords[i]!.searches ?? -1))
  return keywords
    .map((_, i) => i)
    .sort((a, b) => weight(b) - weight(a) || comparePhrases(keywords[a]!.phrase, keywords[b]!.phrase) || a - b)
}
const comparePhrases = (a: string, b: string): number => (a < b ? -1 : a > b ? 1 : 0)

/** With how many other keywords each shares its pages, counted once a page: what a lead is chosen by where searches do not count. O(results). */
export function sharedTotals({ starts, pages, pageCount }: KeywordPages): Int32Array {
  const times = new Int32Array(pageCount)
  for (const page of pages) times[page]!++
  const totals = new Int32Array(starts.length - 1)
  for (let i = 0; i < totals.length; i++)
    for (let at = starts[i]!; at < starts[i + 1]!; at++) totals[i]! += times[pages[at]!]! - 1
  return totals
}

/** How many pages two keywords share. O(results²), of ten results a hundred steps. */
export function sharedPages({ starts, pages }: KeywordPages, a: number, b: number): number {
  let shared = 0
  for (let x = starts[a]!; x < starts[a + 1]!; x++)
    for (let y = starts[b]!; y < starts[b + 1]!; y++) if (pages[x] === pages[y]) shared++
  return shared
}

/** The most results that a keyword has; a threshold above it joins nothing. */
export function mostResults({ starts }: KeywordPages): number {
  let most = 0
  for (let i = 1; i < starts.length; i++) most = Math.max(most, starts[i]! - starts[i - 1]!)
  return most
}

/** Pages that at least `share` (0 to 1) of the keywords with results have, by number, those of most keywords first. */
export function commonPages(packed: KeywordPages, share: number): number[] {
  const times = new Int32Array(packed.pageCount)
  for (const page of packed.pages) times[page]!++
  let known = 0
  for (let i = 1; i < packed.starts.length; i++) if (packed.starts[i]! > packed.starts[i - 1]!) known++
  const least = Math.max(2, share * known)
  return [...times.keys()].filter(page => times[page]! >= least).sort((a, b) => times[b]! - times[a]! || a - b)
}
