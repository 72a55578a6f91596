import { NotConverged } from './page-rank.ts'
import type { WeightedGraph } from './weighted-rank.ts'

/**
 * Hubs and authorities (HITS, Kleinberg 1999) by power iteration, each scaled to length 1. A hub links to good authorities, an authority is
 * linked from good hubs. Meant for a small graph around several sites, such as all that link to them. All zero without links. Throws
 * NotConverged.
 */
export function hubsAndAuthorities(
  { nodes, from, to, weight }: WeightedGraph,
  { tolerance = 1e-9, mostIterations = 500 } = {},
): { hub: Float64Array; authority: Float64Array } {
  if (!from.length) return { hub: new Float64Array(nodes), authority: new Float64Array(nodes) }
  let hub = new Float64Array(nodes).fill(1 / Math.sqrt(nodes))
  for (let iteration = 0; iteration < mostIterations; iteration++) {
    const authority = new Float64Array(nodes)
    for (let i = 0; i < from.length; i++) authority[to[i]!]! += hub[from[i]!]! * weight[i]!
    toLengthOne(authority)
    const next = new Float64Array(nodes)
    for (let i = 0; i < from.length; i++) next[from[i]!]! += authority[to[i]!]! * weight[i]!
    toLengthOne(next)
    const distance = next.reduce((sum, value, i) => sum + Math.abs(value - hub[i]!), 0)
    hub = next
    if (distance < tolerance) return { hub, authority }
  }
  throw new NotConverged(`hubs did not settle within ${mostIterations} iterations`)
}

function toLengthOne(values: Float64Array): void {
  const length = Math.sqrt(values.reduce((sum, value) => sum + value * value, 0))
  if (length > 0) for (let i = 0; i < values.length; i++) values[i]! /= length
}
