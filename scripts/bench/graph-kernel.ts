import { buildLinkGraph } from '@dew-trail/core/links/link-graph'
import { pageRank } from '@dew-trail/core/links/page-rank'

/** Run as a process of its own, so that its peak memory is its own: builds a made-up graph and ranks it. Prints one line of JSON. */
const [nodes, edges] = process.argv.slice(2).map(Number) as [number, number]
let state = 1
const draw = (): number => {
  state = (Math.imul(state, 1664525) + 1013904223) >>> 0
  return state / 2 ** 32
}
const from = new Int32Array(edges)
const to = new Int32Array(edges)
for (let i = 0; i < edges; i++) {
  from[i] = draw() * nodes
  const x = draw()
  to[i] = x * x * x * nodes
}
const baseBytes = process.memoryUsage.rss()
let began = performance.now()
const graph = buildLinkGraph(nodes, from, to)
const buildMs = performance.now() - began
const took: number[] = []
let iterations = 0
// Two runs: the first also warms the compiler up.
for (let run = 0; run < 2; run++) {
  began = performance.now()
  iterations = pageRank(graph).iterations
  took.push((performance.now() - began) / iterations)
}
console.log(
  JSON.stringify({
    buildMs,
    iterationMs: Math.min(...took),
    iterations,
    bytesPerLink: (process.resourceUsage().maxRSS * 1024 - baseBytes + 8 * edges) / edges,
    rank0: pageRank(graph).rank[0],
  }),
)
