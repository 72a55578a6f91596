/**
 * The scale of difficulty, levels and terrain: the share, in %, of a market's sites that stand below. `levels`: 0–100 by linking sites, rising,
 * the 0th to 100th percentile of the market's sites.
 */
export type LevelScale = { levels: readonly number[] }

const points = 101

/** From how many sites on a market's scale is wholly its own. */
export const sitesForScale = 40
/** From how many on it is its own, filled up by the usual spread around them. */
export const fewestSites = 10
const usualLevel = 65
const usualSpread = 12

/** Levels of too few sites for a scale of their own, filled up to so many by sites as they usually spread, about the median of those known. */
export function filledUp(levels: readonly number[]): number[] {
  const missing = sitesForScale - levels.length
  if (missing <= 0 || !levels.length) return [...levels]
  const middle = levels.toSorted((a, b) => a - b)[Math.floor(levels.length / 2)]!
  return [...levels, ...Array.from({ length: missing }, (_, i) => spread(middle, (i + 0.5) / missing))]
}
const spread = (middle: number, share: number): number =>
  Math.min(100, Math.max(0, middle + usualSpread * normalQuantile(share)))

/** The scale from the levels (0–100) of a market's sites, in any order; at least one. */
export function makeScale(levels: readonly number[]): LevelScale {
  if (!levels.length) throw new RangeError('a scale needs the level of at least one site')
  const sorted = levels.toSorted((a, b) => a - b)
  return {
    levels: Array.from({ length: points }, (_, i) => {
      const at = (i / (points - 1)) * (sorted.length - 1)
      const low = Math.floor(at)
      const next = sorted[Math.min(low + 1, sorted.length - 1)]!
      return sorted[low]! + (at - low) * (next - sorted[low]!)
    }),
  }
}

/** What share of a market's sites is taken never to show on first pages. */
const unseenShare = 0.25

/**
 * The scale from the levels of sites that were seen on first pages alone, where the weaker ones of a market hardly show: those seen are taken to be
 * the upper three quarters, and the others to spread evenly from 0 to the lowest seen.
 */
export function makeScaleOfFirstPages(levels: readonly number[]): LevelScale {
  const lowest = levels.reduce((low, level) => Math.min(low, level), 100)
  const unseen = Math.round((levels.length * unseenShare) / (1 - unseenShare))
  return makeScale([...levels, ...Array.from({ length: unseen }, (_, i) => ((i + 0.5) / unseen) * lowest)])
}

/** Levels spread as the documented default weights take them to be, normally about 65 with 12: until a market's own sites are known. */
export const shippedScale: LevelScale = {
  levels: Array.from({ length: points }, (_, i) => spread(usualLevel, (i + 0.5) / points)),
}

/**
 * Where a level (0–100 by linking sites) stands on a scale, 0–100: the share of sites below it, half of those equal to it counted. It rises
 * with the level throughout, also below the lowest site and above the highest, so that an order by it is the order by level.
 */
export function onScale(level: number, { levels }: LevelScale): number {
  if (level <= 0) return 0
  if (level >= 100) return 100
  let [below, upTo] = [0, 0]
  for (const each of levels) {
    if (each < level) below++
    if (each <= level) upTo++
  }
  const shareOf = (i: number): number => ((i + 0.5) / levels.length) * 100
  if (upTo > below) return (shareOf(below) + shareOf(upTo - 1)) / 2
  const [from, fromShare] = below ? [levels[below - 1]!, meanShare(below - 1)] : [0, 0]
  const [to, toShare] = below < levels.length ? [levels[below]!, meanShare(below)] : [100, 100]
  return fromShare + ((level - from) / (to - from)) * (toShare - fromShare)

  /** Of equal levels the middle. */
  function meanShare(i: number): number {
    const value = levels[i]!
    return (shareOf(levels.indexOf(value)) + shareOf(levels.lastIndexOf(value))) / 2
  }
}

/** Standard normal quantile of a share (0–1, ends left out), by bisection of the distribution (Abramowitz & Stegun 1964, 26.2.17). */
function normalQuantile(share: number): number {
  let [low, high] = [-6, 6]
  for (let i = 0; i < 50; i++) {
    const middle = (low + high) / 2
    if (normalShare(middle) < share) low = middle
    else high = middle
  }
  return (low + high) / 2
}
function normalShare(x: number): number {
  const t = 1 / (1 + 0.2316419 * Math.abs(x))
  const tail =
    (Math.exp((-x * x) / 2) / Math.sqrt(2 * Math.PI)) *
    t *
    (0.31938153 + t * (-0.356563782 + t * (1.781477937 + t * (-1.821255978 + t * 1.330274429))))
  return x > 0 ? 1 - tail : tail
}
