/** A day-vector value as a number of places down: the position, one beyond the depth where it was not found, null where it was not checked. */
export const placesDown = (value: number): number | null => (value > 0 ? value : value < 0 ? 1 - value : null)

/** The same, no deeper than `most`: movements far below what anybody reads weigh no more than those just beyond it. */
export const placesDownTo = (value: number, most: number): number | null => {
  const down = placesDown(value)
  return down === null ? null : Math.min(down, most)
}
