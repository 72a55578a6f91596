/** How many of the latest months an average takes in. */
export const averageMonths = 12

/**
 * Mean of the last 12 known months, oldest first; `null` months are left out, never counted as 0. `null` when none is
 * known. Searches per month. Example: [null, 10, 30] → 20.
 */
export function averageSearches(months: ReadonlyArray<number | null>): number | null {
  const known = months.filter((month): month is number => month !== null).slice(-averageMonths)
  return known.length ? known.reduce((sum, month) => sum + month, 0) / known.length : null
}
