/**
 * The places of the `most` largest values of a list, largest first, ties by place; unknown (NaN) last. O(n log n) on plain numbers, which is
 * several times faster than sorting places by a comparison.
 */
export function topRows(values: Float64Array, most: number): number[] {
  const keys = values.map(value => (Number.isNaN(value) ? Number.NEGATIVE_INFINITY : value))
  const positions: number[] = []
  if (most <= 0) return positions
  if (keys.length > most) {
    const least = keys.toSorted()[keys.length - most]!
    for (let i = 0; i < keys.length; i++) if (keys[i]! > least) positions.push(i)
    for (let i = 0; i < keys.length && positions.length < most; i++) if (keys[i] === least) positions.push(i)
  } else for (let i = 0; i < keys.length; i++) positions.push(i)
  return positions.sort((a, b) => (keys[b]! > keys[a]! ? 1 : keys[b]! < keys[a]! ? -1 : a - b))
}
