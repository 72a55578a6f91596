/**
 * p of no season: an analysis of variance of the ranks of detrended values by calendar month (Conover & Iman 1981), which holds its size with
 * two values a month, where the chi-square approximation of Kruskal and Wallis does not. `trendSteps`: how many of the degrees of freedom the
 * trend has used. 1 where a month has no second value to compare with. O(n log n).
 */
export function seasonP(values: ReadonlyArray<number | null>, trendSteps = 1, period = 12): number {
  const known = values.flatMap((value, i) => (value === null ? [] : [{ value, month: i % period }]))
  const ranks = ranksOf(known.map(each => each.value))
  const groups = Array.from({ length: period }, () => ({ sum: 0, count: 0 }))
  for (const [i, { month }] of known.entries()) {
    groups[month]!.sum += ranks[i]!
    groups[month]!.count++
  }
  const filled = groups.filter(each => each.count > 0)
  const within = known.length - filled.length - trendSteps
  if (filled.length < 2 || within < 1) return 1
  const mean = (known.length + 1) / 2
  const whole = ranks.reduce((sum, rank) => sum + (rank - mean) ** 2, 0)
  const between = filled.reduce((sum, { sum: of, count }) => sum + count * (of / count - mean) ** 2, 0)
  if (whole <= 0) return 1
  const rest = whole - between
  if (rest <= 1e-9) return 0
  return fAbove(between / (filled.length - 1) / (rest / within), filled.length - 1, within)
}

/** Ranks from 1; equal values share the mean of theirs. */
function ranksOf(values: readonly number[]): number[] {
  const order = [...values.keys()].sort((a, b) => values[a]! - values[b]!)
  const ranks = new Array<number>(values.length)
  for (let from = 0; from < order.length; ) {
    let to = from
    while (to + 1 < order.length && values[order[to + 1]!] === values[order[from]!]) to++
    for (let i = from; i <= to; i++) ranks[order[i]!] = (from + to) / 2 + 1
    from = to + 1
  }
  return ranks
}

/** Share of the F distribution with `a` and `b` degrees of freedom above f. To about 1e-10. */
export function fAbove(f: number, a: number, b: number): number {
  return f <= 0 ? 1 : betaBelow(b / (b + a * f), b / 2, a / 2)
}
/** The regularised incomplete beta function, by its continued fraction (Press et al., Numerical Recipes, 6.4). */
function betaBelow(x: number, a: number, b: number): number {
  if (x <= 0) return 0
  if (x >= 1) return 1
  const front = Math.exp(logGamma(a + b) - logGamma(a) - logGamma(b) + a * Math.log(x) + b * Math.log(1 - x))
  return x < (a + 1) / (a + b + 2) ? (front * fraction(x, a, b)) / a : 1 - (front * fraction(1 - x, b, a)) / b
}
function fraction(x: number, a: number, b: number): number {
  const tiny = 1e-300
  let c = 1
  let d = 1 / (1 - ((a + b) * x) / (a + 1) || tiny)
  let value = d
  for (let m = 1; m < 300; m++) {
    const even = (m * (b - m) * x) / ((a + 2 * m - 1) * (a + 2 * m))
    d = 1 / (1 + even * d || tiny)
    c = 1 + even / c || tiny
    value *= d * c
    const odd = (-(a + m) * (a + b + m) * x) / ((a + 2 * m) * (a + 2 * m + 1))
    d = 1 / (1 + odd * d || tiny)
    c = 1 + odd / c || tiny
    value *= d * c
    if (Math.abs(d * c - 1) < 1e-12) return value
  }
  throw new Error('the continued fraction of the beta function did not converge')
}
/** Natural logarithm of the gamma function for x > 0 (Lanczos 1964, nine terms). */
function logGamma(x: number): number {
  const terms = [
    0.99999999999980993, 676.5203681218851, -1259.1392167224028, 771.32342877765313, -176.61502916214059,
    12.507343278686905, -0.13857109526572012, 9.9843695780195716e-6, 1.5056327351493116e-7,
  ]
  const y = x - 1
  const t = y + 7.5
  const sum = terms.reduce((total, term, i) => (i ? total + term / (y + i) : term), 0)
  return 0.5 * Math.log(2 * Math.PI) + (y + 0.5) * Math.log(t) - t + Math.log(sum)
}
