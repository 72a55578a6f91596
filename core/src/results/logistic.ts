/** Solves the symmetric positive definite system A·x = b by Cholesky's decomposition; `a` row by row. Throws RangeError where A is not. O(n³). */
export function solvePositive(a: readonly number[][], b: readonly number[]): number[] {
  const n = b.length
  const low = a.map(row => row.slice())
  for (let i = 0; i < n; i++)
    for (let j = 0; j <= i; j++) {
      let sum = low[i]![j]!
      for (let k = 0; k < j; k++) sum -= low[i]![k]! * low[j]![k]!
      if (i !== j) low[i]![j] = sum / low[j]![j]!
      else if (sum > 0) low[i]![i] = Math.sqrt(sum)
      else throw new RangeError('the matrix is not positive definite')
    }
  const x = b.slice()
  for (let i = 0; i < n; i++) {
    for (let k = 0; k < i; k++) x[i]! -= low[i]![k]! * x[k]!
    x[i]! /= low[i]![i]!
  }
  for (let i = n - 1; i >= 0; i--) {
    for (let k = i + 1; k < n; k++) x[i]! -= low[k]![i]! * x[k]!
    x[i]! /= low[i]![i]!
  }
  return x
}

export const sigmoid = (x: number): number => 1 / (1 + Math.exp(-x))

/** Samples row by row in one array: `features` numbers each; `happened` 0 or 1; `counts`: as how many observations each counts, 1 without. */
export type Samples = { features: number; x: Float64Array; happened: Uint8Array; counts?: Float64Array }

/**
 * Logistic regression by Newton's method with an L2 penalty (`penalty`·|w|²/2) and, where `atLeastZero` says so, weights that may not be
 * below 0: such a weight leaves the fit when it would fall under 0 and returns when that would raise the likelihood (projected Newton,
 * Bertsekas 1982). No intercept unless a column is 1 throughout. `start`: where to begin, which saves steps and does
 * not change the end. Deterministic. O(samples · features² · iterations).
 */
export function fitLogistic(
  { features, x, happened, counts }: Samples,
  { penalty, atLeastZero, start }: { penalty: number; atLeastZero: readonly boolean[]; start?: readonly number[] },
): number[] {
  const weights = start ? [...start] : new Array<number>(features).fill(0)
  // Where a row is not 0, and what it is there; most of a row is 0.
  const filled = new Int32Array(features)
  const values = new Float64Array(features)
  const loss = (at: readonly number[]): number => {
    let sum = (penalty / 2) * at.reduce((total, weight) => total + weight * weight, 0)
    for (let row = 0; row < happened.length; row++) {
      let z = 0
      for (let f = 0; f < features; f++) z += at[f]! * x[row * features + f]!
      // log(1 + e^z) without overflow.
      sum += (counts?.[row] ?? 1) * (Math.max(0, z) + Math.log1p(Math.exp(-Math.abs(z))) - (happened[row] ? z : 0))
    }
    return sum
  }
  let current = loss(weights)
  for (let iteration = 0; iteration < 50; iteration++) {
    const gradient = weights.map(weight => penalty * weight)
    const curve = new Float64Array(features * features)
    for (let f = 0; f < features; f++) curve[f * features + f] = penalty
    for (let row = 0; row < happened.length; row++) {
      const from = row * features
      let z = 0
      let many = 0
      for (let f = 0; f < features; f++) {
        const value = x[from + f]!
        if (value === 0) continue
        filled[many] = f
        values[many++] = value
        z += weights[f]! * value
      }
      const p = sigmoid(z)
      const count = counts?.[row] ?? 1
      const miss = count * (p - happened[row]!)
      const spread = count * p * (1 - p)
      for (let i = 0; i < many; i++) {
        const f = filled[i]!
        const value = values[i]!
        gradient[f]! += miss * value
        const [across, share] = [f * features, spread * value]
        for (let j = 0; j <= i; j++) curve[across + filled[j]!]! += share * values[j]!
      }
    }
    const free = weights.map((weight, f) => !(atLeastZero[f] && weight <= 0 && gradient[f]! >= 0))
    const index = [...weights.keys()].filter(f => free[f])
    if (!index.length) break
    const step = solvePositive(
      index.map((f, i) => index.map((g, j) => (j <= i ? curve[Math.max(f, g) * features + Math.min(f, g)]! : 0))),
      index.map(f => -gradient[f]!),
    )
    let share = 1
    let next = weights
    let reached = current
    for (let halving = 0; halving < 30; halving++, share /= 2) {
      next = weights.slice()
      index.forEach((f, i) => {
        const moved = weights[f]! + share * step[i]!
        next[f] = atLeastZero[f] ? Math.max(0, moved) : moved
      })
      reached = loss(next)
      if (reached <= current) break
    }
    const gained = current - reached
    if (!(gained > 0)) break
    for (let f = 0; f < features; f++) weights[f] = next[f]!
    current = reached
    if (gained < 1e-9 * (1 + Math.abs(current))) break
  }
  return weights
}
