import { NotConverged, pageRankDefaults, type Ranks } from './page-rank.ts'

/** A small directed graph with weights, as parallel arrays; one entry a pair. */
export type WeightedGraph = { nodes: number; from: Int32Array; to: Int32Array; weight: Float64Array }

/**
 * PageRank over weighted edges: a node passes its rank on in proportion to the weights of its links. For graphs of sites, where an edge
 * weighs 1 + log2(linking pages). Otherwise as `pageRank`. O(edges) an iteration.
 */
export function weightedRank(
  graph: WeightedGraph,
  start?: Float64Array,
  options: Partial<Record<keyof typeof pageRankDefaults, number>> = {},
): Ranks {
  const { damping, tolerance, mostIterations } = { ...pageRankDefaults, ...options }
  const { nodes, from, to, weight } = graph
  if (!nodes) return { rank: new Float64Array(0), iterations: 0 }
  const begin = start ?? new Float64Array(nodes).fill(1 / nodes)
  const mass = begin.reduce((sum, each) => sum + each, 0)
  if (!(mass > 0)) throw new RangeError('somebody must begin somewhere: all shares of the start are 0')
  const out = new Float64Array(nodes)
  for (let i = 0; i < from.length; i++) if (from[i] !== to[i]) out[from[i]!]! += weight[i]!
  let rank = begin.slice()
  for (let iteration = 1; iteration <= mostIterations; iteration++) {
    const next = new Float64Array(nodes)
    let dangling = 0
    for (let node = 0; node < nodes; node++) if (!out[node]) dangling += rank[node]!
    for (let i = 0; i < from.length; i++)
      if (from[i] !== to[i]) next[to[i]!]! += (damping * rank[from[i]!]! * weight[i]!) / out[from[i]!]!
    const spread = (damping * dangling) / mass + (1 - damping)
    let distance = 0
    for (let node = 0; node < nodes; node++) {
      next[node]! += spread * begin[node]!
      distance += Math.abs(next[node]! - rank[node]!)
    }
    rank = next
    if (distance < tolerance) return { rank, iterations: iteration }
  }
  throw new NotConverged(`ranks did not settle to ${tolerance} within ${mostIterations} iterations`)
}

/** Weight of an edge between sites: 1 + log2(linking pages). */
export const siteEdgeWeight = (linkingPages: number): number => 1 + Math.log2(Math.max(1, linkingPages))

/** The share of rank that is believed to come from good sites in the estimate of doubt (Gyöngyi et al. 2006 use 0.85). */
export const goodShare = 0.85

/**
 * Trust (TrustRank from vetted sites, summing to 1) and doubt (spam mass, Gyöngyi et al. 2006: (PR − trust PR)/PR with the vetted start
 * scaled to `goodShare`; 1 = nothing of its rank comes from vetted sites, below 0 = more than its share does). Throws RangeError without
 * a vetted site: then neither is known.
 */
export function trustAndDoubt(
  graph: WeightedGraph,
  rank: Float64Array,
  vetted: readonly number[],
): { trust: Float64Array; doubt: Float64Array } {
  if (!vetted.length) throw new RangeError('without a vetted site there is no trust to spread')
  const start = new Float64Array(graph.nodes)
  for (const node of new Set(vetted)) start[node] = 1 / new Set(vetted).size
  const { rank: trust } = weightedRank(graph, start)
  const doubt = rank.map((value, node) => (value > 0 ? (value - goodShare * trust[node]!) / value : 1))
  return { trust, doubt }
}
