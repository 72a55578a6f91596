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

/** The norm of an iteration's difference, and how much of the difference nodes without links out hold. */
type Moved = [norm: number, held: number]
/**
 * A computation with arrays of its own. `residual` is one exact iteration: the difference that it makes goes onto the rank. `step` turns
 * the difference of the last iteration into the next, d·(Σ difference(s)/out(s) + held·start/mass), and adds it. What each node gives
 * to one of its links is kept in single precision, which halves the memory that is jumped about in; sums are double.
 */
type Work = { rank: Float64Array; residual(): Moved; step(held: number): Moved }

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
  const { nodes } = graph
  if (!nodes) return { rank: new Float64Array(0), iterations: 0 }
  const given = options.start ?? new Float64Array(nodes).fill(1 / nodes)
  if (given.length !== nodes) throw new RangeError(`the start has ${given.length} shares for ${nodes} nodes`)
  const mass = given.reduce((sum, each) => sum + each, 0)
  if (!(mass > 0) || mass > 1 + 1e-6)
    throw new RangeError(`the shares of the start must sum to more than 0 and at most 1, not ${mass}`)
  const work = (options.kernel === 'plain' ? plainWork : wasmWork)(graph, given, damping, mass)
  let iterations = 0
  while (iterations < mostIterations) {
    iterations++
    let [norm, held] = work.residual()
    if (norm < tolerance) return { rank: work.rank.slice(), iterations }
    const enough = Math.max(tolerance / 4, norm * roundGain)
    while (norm > enough && iterations < mostIterations) {
      iterations++
      ;[norm, held] = work.step(held)
    }
  }
  throw new NotConverged(`ranks did not settle to ${tolerance} within ${mostIterations} iterations`)
}

/** The iterations in JavaScript: the slow, obvious ones that the others are checked against. */
function plainWork(graph: LinkGraph, start: Float64Array, damping: number, mass: number): Work {
  const { nodes, outDegree } = graph
  const rank = start.slice()
  const difference = new Float64Array(nodes)
  /** What nodes give to those they link to, and what those without links hold, in all. */
  const pulled = (given: Float64Array, share: Float32Array | Float64Array): { sum: Float64Array; held: number } => {
    const { offsets, sources } = graph
    let held = 0
    for (let node = 0; node < nodes; node++) {
      if (outDegree[node]) share[node] = given[node]! / outDegree[node]!
      else held += given[node]!
    }
    const sum = new Float64Array(nodes)
    for (let node = 0; node < nodes; node++)
      for (let at = offsets[node]!; at < offsets[node + 1]!; at++) sum[node]! += share[sources[at]!]!
    return { sum, held }
  }
  const move = (change: (node: number) => number): Moved => {
    let norm = 0
    let held = 0
    for (let node = 0; node < nodes; node++) {
      difference[node] = change(node)
      rank[node]! += difference[node]!
      norm += Math.abs(difference[node]!)
      if (!outDegree[node]) held += difference[node]!
    }
    return [norm, held]
  }
  return {
    rank,
    residual() {
      const { sum, held } = pulled(rank, new Float64Array(nodes))
      const spread = (damping * held) / mass + (1 - damping)
      return move(node => damping * sum[node]! + spread * start[node]! - rank[node]!)
    },
    step() {
      const { sum, held } = pulled(difference, new Float32Array(nodes))
      return move(node => damping * sum[node]! + ((damping * held) / mass) * start[node]!)
    },
  }
}

const pageBytes = 65_536
type Iterate = (
  nodes: number,
  offsets: number,
  sources: number,
  degrees: number,
  start: number,
  share: number,
  next: number,
  rank: number,
  damping: number,
  spread: number,
) => Moved

/** The same in WebAssembly (page-rank.wat), with arrays in its memory. */
function wasmWork(graph: LinkGraph, given: Float64Array, damping: number, mass: number): Work {
  const { nodes, offsets, sources, outDegree } = graph
  let bytes = 0
  const position = (length: number, bytesEach: number): number => {
    const at = bytes
    bytes += Math.ceil((length * bytesEach) / 8) * 8
    return at
  }
  const at = {
    rank: position(nodes, 8),
    start: position(nodes, 8),
    wide: position(nodes, 8),
    degrees: position(nodes, 4),
    offsets: position(nodes + 1, 4),
    sources: position(sources.length, 4),
  }
  let [share, next] = [position(nodes, 4), position(nodes, 4)]
  const memory = new WebAssembly.Memory({ initial: Math.max(1, Math.ceil(bytes / pageBytes)), maximum: pageBytes })
  const { exports } = new WebAssembly.Instance(new WebAssembly.Module(pageRankWasm()), { graph: { memory } })
  const { step, residual } = exports as { step: Iterate; residual: Iterate }
  const rank = new Float64Array(memory.buffer, at.rank, nodes)
  rank.set(given)
  new Float64Array(memory.buffer, at.start, nodes).set(given)
  new Uint32Array(memory.buffer, at.degrees, nodes).set(outDegree)
  new Uint32Array(memory.buffer, at.offsets, nodes + 1).set(offsets)
  new Int32Array(memory.buffer, at.sources, sources.length).set(sources)
  const iterate = (kind: Iterate, from: number, spread: number): Moved => {
    const moved = kind(nodes, at.offsets, at.sources, at.degrees, at.start, from, next, at.rank, damping, spread)
    ;[share, next] = [next, share]
    return moved
  }
  return {
    rank,
    residual: () => iterate(residual, at.wide, mass),
    step: held => iterate(step, share, (damping * held) / mass),
  }
}
