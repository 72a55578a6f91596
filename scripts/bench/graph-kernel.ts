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
/** Ranks the graph and gives milliseconds an iteration. */
const rank = (): number => {
  began = performance.now()
  const { iterations } = pageRank(graph)
  return (performance.now() - began) / iterations
}
const first = rank()
// Of one build and one ranking: what a second run leaves until it is collected is not needed for either.
const peakBytes = process.resourceUsage().maxRSS * 1024 - baseBytes + 8 * edges
// The first run also warmed the compiler up.
console.log(JSON.stringify({ buildMs, iterationMs: Math.min(first, rank()), bytesPerLink: peakBytes / edges }))
