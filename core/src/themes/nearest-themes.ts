import type { KeywordPages } from './keyword-pages.ts'

/**
 * For each keyword the theme, besides its own, whose lead shares most pages with it, and how many: −1 and 0 where no lead shares any. Ties go
 * to the first theme. `themeOf`: −1 = alone. O(results × leads that have the page).
 */
export function nearestThemes(
  { starts, pages, pageCount }: KeywordPages,
  themeOf: ArrayLike<number>,
  leads: ArrayLike<number>,
): { theme: Int32Array; shared: Int32Array } {
  const count = starts.length - 1
  const leadsByPage: number[][] = Array.from({ length: pageCount }, () => [])
  for (let theme = 0; theme < leads.length; theme++)
    for (let at = starts[leads[theme]!]!; at < starts[leads[theme]! + 1]!; at++) leadsByPage[pages[at]!]!.push(theme)
  const nearest = new Int32Array(count).fill(-1)
  const most = new Int32Array(count)
  const counts = new Int32Array(leads.length)
  for (let i = 0; i < count; i++) {
    const touched: number[] = []
    for (let at = starts[i]!; at < starts[i + 1]!; at++)
      for (const theme of leadsByPage[pages[at]!]!)
        if (theme !== themeOf[i] && counts[theme]!++ === 0) touched.push(theme)
    for (const theme of touched) {
      if (counts[theme]! > most[i]! || (counts[theme] === most[i] && theme < nearest[i]!)) {
        most[i] = counts[theme]!
        nearest[i] = theme
      }
      counts[theme] = 0
    }
  }
  return { theme: nearest, shared: most }
}
