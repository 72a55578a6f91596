import { seededDraw } from './seeded-draw.ts'
import type { WeightedGraph } from './weighted-rank.ts'

/** Seeded mixing, so that the order of visits is arbitrary and yet the same each time. */
function shuffled(count: number, seed: number): Int32Array {
  const order = Int32Array.from({ length: count }, (_, i) => i)
  const draw = seededDraw(seed)
  for (let i = count - 1; i > 0; i--) {
    const j = Math.floor(draw() * (i + 1))
    ;[order[i], order[j]] = [order[j]!, order[i]!]
  }
  return order
}

/**
 * Clusters of sites that link each other: Louvain (Blondel et al. 2008) on the graph without directions, weights of both directions summed.
 * `seed` fixes the order of visits, so the same graph gives the same clusters. Gives a cluster number a node, 0 the largest; a node
 * without links is a cluster of its own. About O(edges · passes).
 */
export function siteClusters(graph: WeightedGraph, seed = 1): Int32Array {
  let level = undirected(graph.nodes, graph.from, graph.to, graph.weight)
  const clusterOf = Int32Array.from({ length: graph.nodes }, (_, i) => i)
  for (;;) {
    const { community, moved } = moveNodes(level, seed)
    if (!moved) break
    const numbers = new Map<number, number>()
    for (const each of community) if (!numbers.has(each)) numbers.set(each, numbers.size)
    for (let node = 0; node < clusterOf.length; node++) clusterOf[node] = numbers.get(community[clusterOf[node]!]!)!
    if (numbers.size === level.nodes) break
    const from: number[] = []
    const to: number[] = []
    const weight: number[] = []
    for (let node = 0; node < level.nodes; node++) {
      const own = numbers.get(community[node]!)!
      if (level.self[node]) {
        from.push(own)
        to.push(own)
        weight.push(level.self[node]! / 2)
      }
      for (let at = level.offsets[node]!; at < level.offsets[node + 1]!; at++) {
        if (level.neighbours[at]! < node) continue
        from.push(own)
        to.push(numbers.get(community[level.neighbours[at]!]!)!)
        weight.push(level.weights[at]!)
      }
    }
    level = undirected(numbers.size, Int32Array.from(from), Int32Array.from(to), Float64Array.from(weight))
  }
  const sizes = new Map<number, number>()
  for (const each of clusterOf) sizes.set(each, (sizes.get(each) ?? 0) + 1)
  const bySize = [...sizes].sort((a, b) => b[1] - a[1] || a[0] - b[0]).map(([number]) => number)
  const position = new Map(bySize.map((number, i) => [number, i]))
  return clusterOf.map(each => position.get(each)!)
}

type Level = {
  nodes: number
  offsets: Uint32Array
  neighbours: Int32Array
  weights: Float64Array
  /** Twice the weight of links within a node. */
  self: Float64Array
  degree: Float64Array
  total: number
}

function undirected(nodes: number, from: Int32Array, to: Int32Array, weight: Float64Array): Level {
  const rows: Array<Map<number, number>> = Array.from({ length: nodes }, () => new Map())
  const self = new Float64Array(nodes)
  const add = (a: number, b: number, w: number): void => {
    rows[a]!.set(b, (rows[a]!.get(b) ?? 0) + w)
  }
  for (let i = 0; i < from.length; i++) {
    const [a, b, w] = [from[i]!, to[i]!, weight[i]!]
    if (a === b) self[a]! += 2 * w
    else {
      add(a, b, w)
      add(b, a, w)
    }
  }
  const offsets = new Uint32Array(nodes + 1)
  rows.forEach((row, i) => {
    offsets[i + 1] = offsets[i]! + row.size
  })
  const neighbours = new Int32Array(offsets[nodes]!)
  const weights = new Float64Array(offsets[nodes]!)
  const degree = self.slice()
  rows.forEach((row, i) => {
    let at = offsets[i]!
    for (const [other, w] of row) {
      neighbours[at] = other
      weights[at++] = w
      degree[i]! += w
    }
  })
  return { nodes, offsets, neighbours, weights, self, degree, total: degree.reduce((sum, each) => sum + each, 0) }
}

/** Moves nodes to the neighbouring community that gains most modularity until none gains. */
function moveNodes(level: Level, seed: number): { community: Int32Array; moved: boolean } {
  const { nodes, offsets, neighbours, weights, degree, total } = level
  const community = Int32Array.from({ length: nodes }, (_, i) => i)
  const inside = degree.slice()
  if (!(total > 0)) return { community, moved: false }
  const order = shuffled(nodes, seed)
  let moved = false
  for (let again = true, pass = 0; again && pass < 100; pass++) {
    again = false
    for (const node of order) {
      const own = community[node]!
      const links = new Map<number, number>([[own, 0]])
      for (let at = offsets[node]!; at < offsets[node + 1]!; at++) {
        const other = community[neighbours[at]!]!
        links.set(other, (links.get(other) ?? 0) + weights[at]!)
      }
      inside[own]! -= degree[node]!
      let best = own
      let bestGain = links.get(own)! - (inside[own]! * degree[node]!) / total
      for (const [other, w] of links) {
        const gain = w - (inside[other]! * degree[node]!) / total
        if (gain > bestGain + 1e-12) {
          best = other
          bestGain = gain
        }
      }
      inside[best]! += degree[node]!
      if (best !== own) {
        community[node] = best
        moved = true
        again = true
      }
    }
  }
  return { community, moved }
}
