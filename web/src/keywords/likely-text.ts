/** A range from so high up to beyond the twentieth place says nothing. */
const saysNothingFrom = 3

/** The places between which a page lands six times in ten, in words; a range that says nothing is unknown. */
export function likelyText(from: number | null, to: number | null): string {
  if (from === null) return 'beyond 20'
  if (to === null) return from <= saysNothingFrom ? 'unknown' : `${from} to beyond 20`
  return from === to ? String(to) : `${from}–${to}`
}
