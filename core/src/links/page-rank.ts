import type { LinkGraph } from './link-graph.ts'

export const pageRankDefaults = { damping: 0.85, tolerance: 1e-9, mostIterations: 200 } as const
export type PageRankOptions = {
  damping?: number
  /** Plain L1 distance of two iterations at which it stops. */
  tolerance?: number
  mostIterations?: number
  /** Where a random reader begins, one share a node; shares sum to 1 or less (less leaves rank out, as spam mass needs). Even by default. */
  start?: Float64Array
  /** One iteration; the plain one by default. */
  pull?: Pull
}
/**
 * Sums, for every node, the contributions of its sources: next[t] = Σ share[s] over the sources s of t. Shares in single precision halve the
 * memory that is jumped about in; the sums are double.
 */
export type Pull = (graph: LinkGraph, share: Float32Array, next: Float64Array) => void
export type Ranks = { rank: Float64Array; iterations: number }

/** Thrown when ranks do not settle, because a half-settled rank looks right and is not. */
export class NotConverged extends Error {}

/** A round in single precision ends when its steps are this small against its first: finer ones would be rounding. */
const roundGain = 1e-6

/**
 * PageRank (Brin & Page 1998) by power iteration over incoming links: rank = d·(Σ rank(s)/out(s) + dangling·start) + (1 − d)·start. The mass of
 * nodes without links out is spread like the start. With a start of chosen nodes it is TrustRank (Gyöngyi, Garcia-Molina & Pedersen 2004)
 * or topic-sensitive PageRank (Haveliwala 2002). Ranks sum to what the start sums to.
 *
 * Steps are made on the difference of two iterations, which is linear, in single precision; then the true residual is taken in double
 * precision, and a new round begins with it until it is below the tolerance (iterative refinement). Iterating the ranks themselves in
 * single precision is as fast but may swing between two roundings and never settle. O(edges) an iteration. Throws NotConverged.
 */
export function pageRank(graph: LinkGraph, options: PageRankOptions = {}): Ranks {
  const { damping, tolerance, mostIterations } = { ...pageRankDefaults, ...options }
  const { nodes, outDegree } = graph
  const pull = options.pull ?? pullPlain
  if (!nodes) return { rank: new Float64Array(0), iterations: 0 }
  const start = options.start ?? new Float64Array(nodes).fill(1 / nodes)
  if (start.length !== nodes) throw new RangeError(`the start has ${start.length} shares for ${nodes} nodes`)
  const mass = start.reduce((sum, each) => sum + each, 0)
  if (!(mass > 0) || mass > 1 + 1e-6)
    throw new RangeError(`the shares of the start must sum to more than 0 and at most 1, not ${mass}`)
  const rank = start.slice()
  const difference = new Float64Array(nodes)
  const next = new Float64Array(nodes)
  const single = new Float32Array(nodes)
  const double = new Float64Array(nodes)
  /** Fills `share` with what each node gives to one of its links; gives the mass of nodes that have none. */
  const shareOut = (held: Float64Array, share: Float32Array | Float64Array): number => {
    let dangling = 0
    for (let node = 0; node < nodes; node++) {
      const degree = outDegree[node]!
      if (degree) share[node] = held[node]! / degree
      else dangling += held[node]!
    }
    return dangling
  }
  let iterations = 0
  while (iterations < mostIterations) {
    iterations++
    const spread = (damping * shareOut(rank, double)) / mass + (1 - damping)
    pullExact(graph, double, next)
    let first = 0
    for (let node = 0; node < nodes; node++) {
      const change = damping * next[node]! + spread * start[node]! - rank[node]!
      difference[node] = change
      rank[node]! += change
      first += Math.abs(change)
    }
    if (first < tolerance) return { rank, iterations }
    for (let step = first; step > Math.max(tolerance / 4, first * roundGain) && iterations < mostIterations; ) {
      iterations++
      const dangling = (damping * shareOut(difference, single)) / mass
      pull(graph, single, next)
      step = 0
      for (let node = 0; node < nodes; node++) {
        const change = damping * next[node]! + dangling * start[node]!
        difference[node] = change
        rank[node]! += change
        step += Math.abs(change)
      }
    }
  }
  throw new NotConverged(`ranks did not settle to ${tolerance} within ${mostIterations} iterations`)
}

/** The iteration in JavaScript, four sources at a time. */
export const pullPlain: Pull = ({ nodes, offsets, sources }, share, next) => {
  let at = 0
  for (let node = 0; node < nodes; node++) {
    const end = offsets[node + 1]!
    let a = 0
    let b = 0
    let c = 0
    let d = 0
    for (; at + 4 <= end; at += 4) {
      a += share[sources[at]!]!
      b += share[sources[at + 1]!]!
      c += share[sources[at + 2]!]!
      d += share[sources[at + 3]!]!
    }
    for (; at < end; at++) a += share[sources[at]!]!
    next[node] = a + b + (c + d)
  }
}

/**
 * The same in double precision, for residuals. A function of its own with code of its own: the engine compiles one that meets both kinds of
 * arrays to something half as fast.
 */
function pullExact({ nodes, offsets, sources }: LinkGraph, share: Float64Array, next: Float64Array): void {
  let at = 0
  for (let node = 0; node < nodes; node++) {
    const end = offsets[node + 1]!
    let sum = 0
    for (; at < end; at++) sum += share[sources[at]!]!
    next[node] = sum
  }
}
