import type { LinkGraph } from './link-graph.ts'
import { pageRankWasm } from './page-rank-wasm.ts'

// WebAssembly is there in browsers, workers and Node alike, but not in the language's own types.
declare const WebAssembly: {
  Memory: new (limits: { initial: number; maximum: number }) => { readonly buffer: ArrayBuffer }
  Module: new (bytes: Uint8Array<ArrayBuffer>) => object
  Instance: new (
    module: object,
    imports: Record<string, Record<string, unknown>>,
  ) => { readonly exports: Record<string, unknown> }
}

export const pageRankDefaults = { damping: 0.85, tolerance: 1e-9, mostIterations: 200 } as const
export type PageRankOptions = {
  damping?: number
  /** Plain L1 norm of the residual at which it stops. */
  tolerance?: number
  mostIterations?: number
  /** Where a random reader begins, one share a node; shares sum to 1 or less (less leaves rank out, as spam mass needs). Even by default. */
  start?: Float64Array
  /** The WebAssembly iteration, or the plain one in JavaScript, which gives the same. */
  kernel?: 'wasm' | 'plain'
}
export type Ranks = { rank: Float64Array; iterations: number }

/** Thrown when ranks do not settle, because a half-settled rank looks right and is not. */
export class NotConverged extends Error {}

/** A round in single precision ends when its steps are this small against its first: finer ones would be rounding. */
const roundGain = 1e-6

/**
 * Arrays of a computation and one iteration on them: the difference becomes d·(Σ difference(s)/out(s) + dangling·start/mass) and is added to the
 * rank. Shares are in single precision, which halves the memory that is jumped about in; sums are double. Gives the norm of the difference.
 */
type Work = { rank: Float64Array; difference: Float64Array; start: Float64Array; step(): number }

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
  if (!nodes) return { rank: new Float64Array(0), iterations: 0 }
  const given = options.start ?? new Float64Array(nodes).fill(1 / nodes)
  if (given.length !== nodes) throw new RangeError(`the start has ${given.length} shares for ${nodes} nodes`)
  const mass = given.reduce((sum, each) => sum + each, 0)
  if (!(mass > 0) || mass > 1 + 1e-6)
    throw new RangeError(`the shares of the start must sum to more than 0 and at most 1, not ${mass}`)
  const work = (options.kernel === 'plain' ? plainWork : wasmWork)(graph, given, damping, mass)
  const { rank, difference } = work
  const share = new Float64Array(nodes)
  let iterations = 0
  while (iterations < mostIterations) {
    iterations++
    const first = takeResidual()
    if (first < tolerance) return { rank: rank.slice(), iterations }
    for (let norm = first; norm > Math.max(tolerance / 4, first * roundGain) && iterations < mostIterations; ) {
      iterations++
      norm = work.step()
    }
  }
  throw new NotConverged(`ranks did not settle to ${tolerance} within ${mostIterations} iterations`)

  /** One exact iteration: the change goes into `difference` and onto the rank. Gives its norm. */
  function takeResidual(): number {
    let dangling = 0
    for (let node = 0; node < nodes; node++) {
      const degree = outDegree[node]!
      if (degree) share[node] = rank[node]! / degree
      else dangling += rank[node]!
    }
    const spread = (damping * dangling) / mass + (1 - damping)
    const { offsets, sources } = graph
    let norm = 0
    let at = 0
    for (let node = 0; node < nodes; node++) {
      const end = offsets[node + 1]!
      let sum = 0
      let other = 0
      // Two sums at a time: each waits for its own additions only.
      for (; at + 2 <= end; at += 2) {
        sum += share[sources[at]!]!
        other += share[sources[at + 1]!]!
      }
      if (at < end) sum += share[sources[at++]!]!
      difference[node] = damping * (sum + other) + spread * given[node]! - rank[node]!
      norm += Math.abs(difference[node]!)
    }
    for (let node = 0; node < nodes; node++) rank[node]! += difference[node]!
    return norm
  }
}

/** The iteration in JavaScript: the slow, obvious one that the other is checked against. */
function plainWork(graph: LinkGraph, start: Float64Array, damping: number, mass: number): Work {
  const { nodes, offsets, sources, outDegree } = graph
  const rank = start.slice()
  const difference = new Float64Array(nodes)
  const share = new Float32Array(nodes)
  return {
    rank,
    difference,
    start,
    step() {
      let dangling = 0
      for (let node = 0; node < nodes; node++) {
        if (outDegree[node]) share[node] = difference[node]! / outDegree[node]!
        else dangling += difference[node]!
      }
      dangling = (damping * dangling) / mass
      let norm = 0
      for (let node = 0; node < nodes; node++) {
        let sum = 0
        for (let at = offsets[node]!; at < offsets[node + 1]!; at++) sum += share[sources[at]!]!
        const change = damping * sum + dangling * start[node]!
        difference[node] = change
        rank[node]! += change
        norm += Math.abs(change)
      }
      return norm
    },
  }
}

const pageBytes = 65_536
type Step = (
  nodes: number,
  offsets: number,
  sources: number,
  inverse: number,
  start: number,
  share: number,
  difference: number,
  rank: number,
  damping: number,
  mass: number,
) => number

/** The same in WebAssembly (page-rank.wat), with arrays in its memory. */
function wasmWork(graph: LinkGraph, given: Float64Array, damping: number, mass: number): Work {
  const { nodes, offsets, sources, outDegree } = graph
  let bytes = 0
  const place = (length: number, bytesEach: number): number => {
    const at = bytes
    bytes += Math.ceil((length * bytesEach) / 8) * 8
    return at
  }
  const at = {
    rank: place(nodes, 8),
    difference: place(nodes, 8),
    start: place(nodes, 8),
    inverse: place(nodes, 8),
    share: place(nodes, 4),
    offsets: place(nodes + 1, 4),
    sources: place(sources.length, 4),
  }
  const memory = new WebAssembly.Memory({ initial: Math.max(1, Math.ceil(bytes / pageBytes)), maximum: pageBytes })
  const { exports } = new WebAssembly.Instance(new WebAssembly.Module(pageRankWasm()), { graph: { memory } })
  const step = exports.step as Step
  const doubles = (from: number): Float64Array => new Float64Array(memory.buffer, from, nodes)
  const rank = doubles(at.rank)
  const start = doubles(at.start)
  rank.set(given)
  start.set(given)
  const inverse = doubles(at.inverse)
  for (let node = 0; node < nodes; node++) inverse[node] = outDegree[node] ? 1 / outDegree[node]! : 0
  new Uint32Array(memory.buffer, at.offsets, nodes + 1).set(offsets)
  new Int32Array(memory.buffer, at.sources, sources.length).set(sources)
  return {
    rank,
    difference: doubles(at.difference),
    start,
    step: () =>
      step(nodes, at.offsets, at.sources, at.inverse, at.start, at.share, at.difference, at.rank, damping, mass),
  }
}
