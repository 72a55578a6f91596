/** Days that a page is given until it stands where it will, before a site's own pages tell. */
export const usualSettling = 60
/** Fewer pages tell nothing of a site. */
export const leastSettled = 5
/** A page's settled position is the median of its positions between these days after publication. */
export const [stayFrom, stayUntil] = [90, 150]
const leastChecks = 8
/** So near to where it stays counts as there: a fifth, at least one place. */
const nearness = 0.2
/** Positions beyond those that are checked, or not found, count as this. */
const beyond = 100

/** A position on a day after publication; below 0 = not found. */
export type SettlingCheck = { day: number; position: number }

/**
 * Days from publication until a page first stands where it stays: from then on the median of any five checks in a row is no further below
 * than a fifth of the position between the 90th and the 150th day, one place at the least. `null` where fewer than eight checks tell where it
 * stays, none was made in its first month, or it does not stay within 100. Checks in the order of their days.
 */
export function settlingDays(checks: readonly SettlingCheck[]): number | null {
  const known = checks.map(({ day, position }) => ({ day, position: position < 0 ? beyond : position }))
  const staying = known.filter(({ day }) => day >= stayFrom && day <= stayUntil).map(each => each.position)
  if (staying.length < leastChecks || !known.some(({ day }) => day >= 0 && day <= 30)) return null
  const stays = median(staying)
  if (stays >= beyond) return null
  const limit = stays + Math.max(1, nearness * stays)
  const early = known.filter(({ day }) => day >= 0 && day < stayFrom)
  for (let i = early.length - 1; i >= 0; i--) {
    const around = early.slice(Math.max(0, i - 2), i + 3).map(each => each.position)
    if (median(around) > limit) return early[i + 1]?.day ?? stayFrom
  }
  return early[0]?.day ?? null
}

/** Days that the pages of a site take to settle: the median over those of which it is known, at least five; else the usual 60. */
export function siteSettling(days: readonly number[]): { days: number; pages: number } {
  return days.length < leastSettled
    ? { days: usualSettling, pages: 0 }
    : { days: Math.max(1, Math.round(median(days))), pages: days.length }
}

function median(list: readonly number[]): number {
  const sorted = list.toSorted((a, b) => a - b)
  const half = sorted.length >> 1
  return sorted.length % 2 ? sorted[half]! : (sorted[half - 1]! + sorted[half]!) / 2
}
