import { clickShare, type Device } from '../demand/click-curve.ts'

/** What is known of a keyword in a market: day-vector values (above 0 the position, below 0 not found within, 0 not checked). */
export type InMarket = { now: number; before: number; device: Device }

/**
 * Visibility of one keyword over its markets, 0–100: the mean, over those in which it was checked, of the share of clicks at its position ÷
 * that at the first; 100 is first everywhere, not found counts as 0. `change`: since before, over the markets checked both times. `null` where
 * there are none.
 */
export function keywordVisibility(markets: readonly InMarket[]): { now: number | null; change: number | null } {
  const mean = (list: readonly InMarket[], of: 'now' | 'before'): number | null =>
    list.length ? list.reduce((sum, each) => sum + reached(each[of], each.device), 0) / list.length : null
  const both = markets.filter(each => each.now !== 0 && each.before !== 0)
  const [before, since] = [mean(both, 'before'), mean(both, 'now')]
  return {
    now: mean(
      markets.filter(each => each.now !== 0),
      'now',
    ),
    change: before === null || since === null ? null : since - before,
  }
}

const reached = (position: number, device: Device): number =>
  position > 0 ? (100 * clickShare(position, device)) / clickShare(1, device) : 0
