const pairs = (n: number): number => (n * (n - 1)) / 2

/**
 * How far two groupings of the same keywords agree: the adjusted Rand index (Hubert & Arabie 1985), 1 = the same, 0 = as by chance, below 0
 * less than that. −1 in a grouping = alone, a group of one. Two groupings without any pair are the same: 1. O(n).
 */
export function adjustedRand(a: Int32Array, b: Int32Array): number {
  const n = a.length
  const sizesA = new Map<number, number>()
  const sizesB = new Map<number, number>()
  const both = new Map<number, number>()
  for (let i = 0; i < n; i++) {
    const [x, y] = [a[i]!, b[i]!]
    if (x >= 0) sizesA.set(x, (sizesA.get(x) ?? 0) + 1)
    if (y >= 0) sizesB.set(y, (sizesB.get(y) ?? 0) + 1)
    // A number a pair of groups: both are below 2^26, so it stays exact.
    if (x >= 0 && y >= 0) both.set(x * 0x4000000 + y, (both.get(x * 0x4000000 + y) ?? 0) + 1)
  }
  const sum = (sizes: Map<number, number>): number =>
    [...sizes.values()].reduce((total, size) => total + pairs(size), 0)
  const [inA, inB, inBoth] = [sum(sizesA), sum(sizesB), sum(both)]
  const expected = n > 1 ? (inA * inB) / pairs(n) : 0
  const most = (inA + inB) / 2
  return most === expected ? 1 : (inBoth - expected) / (most - expected)
}
