/** Fewer weeks before tell nothing of what is usual, fewer new sites are none worth a note. */
const [leastWeeks, leastSites] = [8, 5]
/** So rarely would chance alone bring as many or more (Poisson). */
const rare = 1e-4

/**
 * Whether so many sites began to link within a week that chance does not explain it, with how many a week are usual: the mean of the weeks
 * before. `null` where it does, fewer than five began, or fewer than eight weeks before are known. O(sites).
 */
export function linkBurst(before: readonly number[], sites: number): { usual: number } | null {
  if (before.length < leastWeeks || sites < leastSites) return null
  const usual = before.reduce((sum, each) => sum + each, 0) / before.length
  // Of weeks without any the next one may still bring one by chance.
  return atLeast(sites, Math.max(usual, 1 / before.length)) < rare ? { usual } : null
}

/** Probability that a Poisson variable with a mean is a count or more. */
function atLeast(count: number, mean: number): number {
  let term = Math.exp(-mean)
  let below = 0
  for (let k = 0; k < count; k++) {
    below += term
    term *= mean / (k + 1)
  }
  return Math.max(0, 1 - below)
}
