import { clickShare, type Device } from './click-curve.ts'
import { seenShare } from './hidden-demand.ts'

/** Places of a curve that is fitted; beyond them the default goes on, scaled to join. */
export const fittedPositions = 20
/** Impressions a place whose weight the default has. */
export const defaultWeight = 200

export type PositionCount = { impressions: number; clicks: number }
export type FittedCurve = { shares: number[]; impressions: number[] }

/**
 * Click shares by place from an own query log. Only who sees a place makes an impression there, so clicks over impressions are
 * turned into clicks over searches by the share of searchers who see the place; shrunk to the default curve with the weight of
 * 200 impressions, then made non-increasing by weighted isotonic regression (pool adjacent violators; Ayer et al.
 * 1955). `counts[i]` belongs to place i + 1; missing places count as no impressions. Shares 0–1.
 */
export function fitClickCurve(counts: readonly PositionCount[], device: Device): FittedCurve {
  const values: number[] = []
  const weights: number[] = []
  for (let position = 1; position <= fittedPositions; position++) {
    const { impressions, clicks } = counts[position - 1] ?? { impressions: 0, clicks: 0 }
    if (impressions < 0 || clicks < 0 || clicks > impressions)
      throw new RangeError(`place ${position}: ${clicks} clicks of ${impressions} impressions`)
    values.push(
      (clicks * seenShare(position, device) + defaultWeight * clickShare(position, device)) /
        (impressions + defaultWeight),
    )
    weights.push(impressions + defaultWeight)
  }
  return {
    shares: nonIncreasing(values, weights),
    impressions: Array.from({ length: fittedPositions }, (_, i) => counts[i]?.impressions ?? 0),
  }
}

/** Weighted least-squares fit that never rises (pool adjacent violators). O(n). */
export function nonIncreasing(values: readonly number[], weights: readonly number[]): number[] {
  const blocks: Array<{ mean: number; weight: number; size: number }> = []
  values.forEach((value, i) => {
    blocks.push({ mean: value, weight: weights[i]!, size: 1 })
    while (blocks.length > 1 && blocks.at(-2)!.mean < blocks.at(-1)!.mean) {
      const last = blocks.pop()!
      const before = blocks.at(-1)!
      before.mean = (before.mean * before.weight + last.mean * last.weight) / (before.weight + last.weight)
      before.weight += last.weight
      before.size += last.size
    }
  })
  return blocks.flatMap(block => new Array<number>(block.size).fill(block.mean))
}
