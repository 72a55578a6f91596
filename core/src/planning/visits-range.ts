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
 * Range that holds the visits a month of pages together in eight of ten cases, by drawing positions and demand 400 times: quantiles of
 * the sum, not sums of quantiles. Within a page, positions follow one factor of the page for four fifths of their variance (a one-factor
 * normal copula); pages are independent of each other. `beside`: what the page may get from keywords it was not planned for, one of which
 * is drawn; empty = not known, and left out. Drawn alike for the same input. O(draws · keywords).
 */
export function visitsRange(
  pages: ReadonlyArray<{ keywords: readonly UncertainKeyword[]; beside: readonly number[] }>,
): VisitsRange | null {
  if (!pages.some(page => page.keywords.length > 0)) return null
  const table = (tables ??= makeTables())
  const ofPageShare = Math.sqrt(together)
  const ofKeywordShare = Math.sqrt(1 - together)
  const sums = new Float64Array(draws)
  for (const [p, { keywords, beside }] of pages.entries())
    for (let d = 0; d < draws; d++) {
      const ofPage = table.normals[(d * 131 + p * 7_919) & mask]!
      let sum = 0
      for (const [k, keyword] of keywords.entries()) {
        const at = (40_009 + d * 257 + k * 8_191 + p * 104_729) & mask
        const position = positionAt(
          table.shareBelow(ofPageShare * ofPage + ofKeywordShare * table.normals[at]!),
          keyword,
        )
        if (position > 0) sum += keyword.part * keyword.atPosition[position - 1]! * table.demand[(at * 31 + 17) & mask]!
      }
      if (beside.length) sum += beside[Math.floor(table.even[(d * 613 + p * 2_053) & mask]! * beside.length)]!
      sums[d]! += sum
    }
  sums.sort()
  const at = (share: number): number => sums[Math.min(draws - 1, Math.floor(share * draws))]!
  return { low: at(lowest), middle: at(0.5), high: at(highest) }
}

/** Draws that all ranges share: a plan has thousands of pages, and drawing anew for each took ten times as long. */
type Tables = { normals: Float64Array; demand: Float64Array; even: Float64Array; shareBelow(z: number): number }
let tables: Tables | null = null
const mask = 0xffff
function makeTables(): Tables {
  const draw = seededDraw(1)
  const make = (pick: () => number): Float64Array => Float64Array.from({ length: mask + 1 }, pick)
  const steps = 1_000
  const reach = 5
  const shares = Float64Array.from({ length: 2 * reach * steps + 1 }, (_, i) => normalShare(i / steps - reach))
  return {
    normals: make(() => normalDraw(draw)),
    demand: make(() => Math.exp(demandSpread * normalDraw(draw) - demandSpread ** 2 / 2)),
    even: make(draw),
    shareBelow: z => shares[Math.round((Math.min(reach, Math.max(-reach, z)) + reach) * steps)]!,
  }
}

/** The position that belongs to a share of all cases, best first; 0 = beyond 20. */
function positionAt(share: number, { within3, within10, within20 }: UncertainKeyword): number {
  if (share < within3) return 1 + Math.min(2, Math.floor((share / within3) * 3))
  if (share < within10) return 4 + Math.min(6, Math.floor(((share - within3) / (within10 - within3)) * 7))
  if (share < within20) return 11 + Math.min(9, Math.floor(((share - within10) / (within20 - within10)) * 10))
  return 0
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
