/** Predictions from which on their sum is compared with what happened: fewer differ by luck alone. */
export const fewestPredictions = 10

/**
 * What chances were worth. `expected`: how many events they promise together; `spread`: standard deviation of the number that happens if
 * the chances are right and the events independent (Poisson binomial); `verdict`: `right` within two of these, `cautious` when more
 * happened, `hopeful` when less did, `few` below `fewestPredictions`.
 */
export type CameTrue = {
  count: number
  expected: number
  happened: number
  spread: number
  verdict: 'few' | 'right' | 'cautious' | 'hopeful'
}

/** Sums predictions, chances 0–1, against what happened. O(n). */
export function cameTrue(list: ReadonlyArray<{ chance: number; happened: boolean }>): CameTrue {
  let [expected, variance, happened] = [0, 0, 0]
  for (const each of list) {
    expected += each.chance
    variance += each.chance * (1 - each.chance)
    if (each.happened) happened++
  }
  const spread = Math.sqrt(variance)
  const off = happened - expected
  // Half an event is no difference: events are whole, and chances of 0 and 1 leave no spread.
  const verdict =
    list.length < fewestPredictions
      ? 'few'
      : Math.abs(off) <= Math.max(0.5, 2 * spread)
        ? 'right'
        : off > 0
          ? 'cautious'
          : 'hopeful'
  return { count: list.length, expected, happened, spread, verdict }
}
