import { normalDraw } from '../results/normal-draw.ts'
import { seededDraw } from '../links/seeded-draw.ts'

/** What a keyword may bring: chances of standing within 3, 10 and 20, and visits a month at each of the first twenty positions. */
export type UncertainKeyword = {
  within3: number
  within10: number
  within20: number
  atPosition: readonly number[]
  /** What part of the sum it is, where forms of one keyword share a figure. */
  part: number
}
export type VisitsRange = { low: number; middle: number; high: number }

/** Positions of keywords of one page go up and down together: share of their variance that is the page's. */
const together = 0.8
/** Spread of a month's demand around its estimate, as the standard deviation of its logarithm. */
const demandSpread = 0.3
const draws = 400
/** The range holds eight of ten. */
const [lowest, highest] = [0.1, 0.9]

/**
 * Range that holds the visits a month of pages together in eight of ten cases, by drawing positions and demand 400 times: quantiles of the
 * sum, not sums of quantiles. Within a page, positions follow one factor of the page for four fifths of their variance (a one-factor normal copula); pages are independent of
 * each other. `beside`: what the page may get from keywords it was not planned for, one of which is drawn; empty = not known, and left out. Drawn alike for the same input. O(draws · keywords).
 */
export function visitsRange(
  pages: ReadonlyArray<{ keywords: readonly UncertainKeyword[]; beside: readonly number[] }>,
): VisitsRange | null {
  if (!pages.some(page => page.keywords.length > 0)) return null
  const draw = seededDraw(1)
  const sums = Array.from({ length: draws }, () => {
    let sum = 0
    for (const { keywords, beside } of pages) {
      const ofPage = normalDraw(draw)
      for (const keyword of keywords) {
        const z = Math.sqrt(together) * ofPage + Math.sqrt(1 - together) * normalDraw(draw)
        const position = positionAt(normalShare(z), keyword)
        if (position === null) continue
        sum +=
          keyword.part *
          keyword.atPosition[position - 1]! *
          Math.exp(demandSpread * normalDraw(draw) - demandSpread ** 2 / 2)
      }
      if (beside.length) sum += beside[Math.floor(draw() * beside.length)]!
    }
    return sum
  }).sort((a, b) => a - b)
  const at = (share: number): number => sums[Math.min(draws - 1, Math.floor(share * draws))]!
  return { low: at(lowest), middle: at(0.5), high: at(highest) }
}

/** The position that belongs to a share of all cases, best first; null = beyond 20. */
function positionAt(share: number, { within3, within10, within20 }: UncertainKeyword): number | null {
  const bands: Array<[from: number, to: number, last: number, upTo: number]> = [
    [1, 3, 0, within3],
    [4, 10, within3, within10],
    [11, 20, within10, within20],
  ]
  for (const [from, to, last, upTo] of bands)
    if (share < upTo) return from + Math.min(to - from, Math.floor(((share - last) / (upTo - last)) * (to - from + 1)))
  return null
}

/** Share of the standard normal distribution below z (Abramowitz & Stegun 26.2.17; error below 1e-7). */
function normalShare(z: number): number {
  const t = 1 / (1 + 0.2316419 * Math.abs(z))
  const tail =
    Math.exp((-z * z) / 2) *
    0.3989422804 *
    t *
    (0.31938153 + t * (-0.356563782 + t * (1.781477937 + t * (-1.821255978 + t * 1.330274429))))
  return z > 0 ? 1 - tail : tail
}
