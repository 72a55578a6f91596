import type { KeywordPages } from './keyword-pages.ts'

/**
 * A keyword that does not belong where it is: it shares enough pages with `inside` (0 to 1) of the others of its theme, and with a larger
 * share, `there`, of those of theme `better`; −1 where no theme fits it at all.
 */
export type Misfit = { keyword: number; theme: number; inside: number; better: number; there: number }
/** Two themes that share results: `pairs` pairs of their keywords do, of `of`. `pages`: those that most keywords of both show. */
export type ThemeOverlap = { a: number; b: number; pairs: number; of: number; pages: number[] }
export type ThemeCheck = {
  /** By theme: the share of the pairs within it that share enough pages; null for a theme of one keyword with results. */
  cohesion: Array<number | null>
  misfits: Misfit[]
  overlaps: ThemeOverlap[]
}

/** Two themes compete when so large a share of the pairs across share enough pages. */
const leastOverlap = 0.2
const mostPages = 3

/**
 * What result pages say of a grouping that exists: how far each theme holds together, which keywords would stand better elsewhere, and which
 * themes compete. `themeOf`: −1 = in none. Keywords without results say nothing and are left out. O(pairs that share a page).
 */
export function checkThemes(packed: KeywordPages, themeOf: Int32Array, themes: number, threshold: number): ThemeCheck {
  const { starts, pages, pageCount } = packed
  const count = starts.length - 1
  const byPage: number[][] = Array.from({ length: pageCount }, () => [])
  const sizes = new Int32Array(themes)
  for (let i = 0; i < count; i++) {
    if (themeOf[i]! < 0 || starts[i] === starts[i + 1]) continue
    sizes[themeOf[i]!]!++
    for (let at = starts[i]!; at < starts[i + 1]!; at++) byPage[pages[at]!]!.push(i)
  }
  const inside = new Float64Array(themes)
  const across = new Map<number, number>()
  const misfits: Misfit[] = []
  const counts = new Uint8Array(count)
  const agree = new Int32Array(themes)
  for (let i = 0; i < count; i++) {
    const own = themeOf[i]!
    if (own < 0 || starts[i] === starts[i + 1]) continue
    const touched: number[] = []
    for (let at = starts[i]!; at < starts[i + 1]!; at++)
      for (const other of byPage[pages[at]!]!) if (other !== i && counts[other]!++ === 0) touched.push(other)
    const met = new Set<number>()
    for (const other of touched) {
      if (counts[other]! >= threshold) {
        const theme = themeOf[other]!
        agree[theme]!++
        met.add(theme)
        if (other < i && theme === own) inside[own]!++
        else if (other < i) {
          const key = Math.min(own, theme) * themes + Math.max(own, theme)
          across.set(key, (across.get(key) ?? 0) + 1)
        }
      }
      counts[other] = 0
    }
    const here = sizes[own]! > 1 ? agree[own]! / (sizes[own]! - 1) : 0
    let [better, there] = [-1, 0]
    for (const theme of met) {
      const share = agree[theme]! / sizes[theme]!
      if (theme !== own && (share > there || (share === there && theme < better))) [better, there] = [theme, share]
    }
    if (sizes[own]! > 1 ? here === 0 || there > here : there >= 0.5)
      misfits.push({ keyword: i, theme: own, inside: here, better: there > here ? better : -1, there })
    for (const theme of met) agree[theme] = 0
  }
  const overlaps = [...across]
    .map(([key, pairs]): ThemeOverlap => {
      const [a, b] = [Math.floor(key / themes), key % themes]
      return { a, b, pairs, of: sizes[a]! * sizes[b]!, pages: [] }
    })
    .filter(each => each.pairs >= leastOverlap * each.of)
    .sort((x, y) => y.pairs / y.of - x.pairs / x.of || x.a - y.a || x.b - y.b)
  const members: number[][] = Array.from({ length: themes }, () => [])
  for (let i = 0; i < count; i++) if (themeOf[i]! >= 0) members[themeOf[i]!]!.push(i)
  for (const overlap of overlaps) overlap.pages = pagesOfBoth(packed, members[overlap.a]!, members[overlap.b]!)
  return {
    cohesion: Array.from(sizes, (size, theme) => (size > 1 ? inside[theme]! / ((size * (size - 1)) / 2) : null)),
    misfits,
    overlaps,
  }
}

/** The pages that most keywords of two themes show, of those that both show. */
function pagesOfBoth(packed: KeywordPages, a: readonly number[], b: readonly number[]): number[] {
  const [inA, inB] = [timesOf(packed, a), timesOf(packed, b)]
  return [...inA]
    .flatMap(([page, times]) => (inB.has(page) ? [{ page, inA: times, inB: inB.get(page)! }] : []))
    .sort((x, y) => Math.min(y.inA, y.inB) - Math.min(x.inA, x.inB) || y.inA + y.inB - x.inA - x.inB || x.page - y.page)
    .slice(0, mostPages)
    .map(({ page }) => page)
}
function timesOf({ starts, pages }: KeywordPages, members: readonly number[]): Map<number, number> {
  const times = new Map<number, number>()
  for (const i of members)
    for (let at = starts[i]!; at < starts[i + 1]!; at++) times.set(pages[at]!, (times.get(pages[at]!) ?? 0) + 1)
  return times
}
