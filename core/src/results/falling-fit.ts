/**
 * The non-increasing sequence closest to `values` in squares (isotonic regression by pool adjacent violators; Ayer et al. 1955).
 * Of a result page: what the engine put lower cannot truly be stronger, so a rise in the strengths is noise and is averaged out.
 * Empty in, empty out. O(n). Example: [3, 1, 2] → [3, 1.5, 1.5].
 */
export function fallingFit(values: readonly number[]): number[] {
  const blocks: Array<{ sum: number; count: number }> = []
  for (const value of values) {
    blocks.push({ sum: value, count: 1 })
    while (blocks.length > 1) {
      const last = blocks.at(-1)!
      const before = blocks.at(-2)!
      if (before.sum / before.count >= last.sum / last.count) break
      before.sum += last.sum
      before.count += last.count
      blocks.pop()
    }
  }
  return blocks.flatMap(({ sum, count }) => new Array<number>(count).fill(sum / count))
}
