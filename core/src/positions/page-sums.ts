/** A check counts until the next one, at most so many days. */
const carried = 8

export type PageKeyword = {
  /** Day-vector values by day: above 0 a place, below 0 not found, 0 not checked. */
  positions: ArrayLike<number>
  /** The own page found, from a day on (by its index, may lie before the first), in the order of the days; null = none. */
  pages: ReadonlyArray<{ from: number; page: string | null }>
  /** What part of the keyword's figure counts where forms of it are counted once. */
  part: number
  /** Visits a month at a place; null = unknown. */
  visitsAt(position: number): number | null
}
/** By day: for how many keywords a page was found, and their visits a month together; null where nothing was checked or none is known. */
export type PageSums = { keywords: Array<number | null>; visits: Array<number | null> }

/** What an own page stands for, day by day: keywords for which it is the page found. O(days × keywords). */
export function pageSums(page: string, keywords: readonly PageKeyword[], days: number): PageSums {
  const sums: PageSums = { keywords: new Array(days).fill(null), visits: new Array(days).fill(null) }
  for (const { positions, pages, part, visitsAt } of keywords) {
    let [last, lastDay, change] = [0, -carried - 1, 0]
    let found: string | null = null
    for (let day = 0; day < days; day++) {
      while (change < pages.length && pages[change]!.from <= day) found = pages[change++]!.page
      if (positions[day]) [last, lastDay] = [positions[day]!, day]
      if (day - lastDay > carried) continue
      const here = last > 0 && found === page
      sums.keywords[day] = (sums.keywords[day] ?? 0) + (here ? 1 : 0)
      const visits = here ? visitsAt(last) : null
      if (visits !== null) sums.visits[day] = (sums.visits[day] ?? 0) + visits * part
    }
  }
  // Where the page is found for nothing it brings nothing; where its keywords' searches are unknown, nobody knows.
  for (let day = 0; day < days; day++) if (sums.keywords[day] === 0) sums.visits[day] = 0
  return sums
}
