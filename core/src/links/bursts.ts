/** Periods looked back on, the robust z-score and the count from which a period is a burst. */
export const burstDefaults = { trailing: 26, score: 4, leastCount: 8, leastPeriods: 8 } as const
export type Burst = { at: number; count: number; usual: number; score: number }

/**
 * Periods that gained far more links than usual: robust z-score 0.6745·(x − median)/MAD over the trailing 26 periods (Iglewicz & Hoaglin 1993)
 * at or above `score`, with a count of at least `leastCount`. Where most periods were alike (MAD 0) a spread of √(median + 1), that of
 * chance counts, stands in. The first `leastPeriods` are never judged: nothing is known to be usual yet.
 */
export function findBursts(counts: readonly number[], options: Partial<typeof burstDefaults> = {}): Burst[] {
  const { trailing, score, leastCount, leastPeriods } = { ...burstDefaults, ...options }
  const bursts: Burst[] = []
  for (let at = leastPeriods; at < counts.length; at++) {
    const before = counts.slice(Math.max(0, at - trailing), at)
    const usual = median(before)
    const mad = median(before.map(each => Math.abs(each - usual)))
    const spread = Math.max(mad / 0.6745, Math.sqrt(usual + 1))
    const z = (counts[at]! - usual) / spread
    if (counts[at]! >= leastCount && z >= score) bursts.push({ at, count: counts[at]!, usual, score: z })
  }
  return bursts
}

function median(values: readonly number[]): number {
  const sorted = [...values].sort((a, b) => a - b)
  const half = sorted.length >> 1
  return sorted.length % 2 ? sorted[half]! : (sorted[half - 1]! + sorted[half]!) / 2
}
