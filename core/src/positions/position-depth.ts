/** A day-vector value as a number of places down: the position, one beyond the depth where it was not found, null where it was not checked. */
export const positionsDown = (value: number): number | null => (value > 0 ? value : value < 0 ? 1 - value : null)

/** The same, no deeper than `most`: movements far below what anybody reads weigh no more than those just beyond it. */
export const positionsDownTo = (value: number, most: number): number | null => {
  const down = positionsDown(value)
  return down === null ? null : Math.min(down, most)
}
