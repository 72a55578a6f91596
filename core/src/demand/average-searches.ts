/** How many of the latest months an average may take in, and how many it does where nothing is said. */
export const averagePeriods = [3, 12, 24] as const
export type AveragePeriod = (typeof averagePeriods)[number]
export const usualPeriod: AveragePeriod = 12

/**
 * Mean of the last known months (12 if not said), oldest first; `null` months are left out, never counted as 0. `null` when none is
 * known. Searches per month. Example: [null, 10, 30] → 20.
 */
export function averageSearches(
  months: ReadonlyArray<number | null>,
  period: AveragePeriod = usualPeriod,
): number | null {
  const known = months.filter((month): month is number => month !== null).slice(-period)
  return known.length ? known.reduce((sum, month) => sum + month, 0) / known.length : null
}
