import type { LinkGraph } from './link-graph.ts'
import { pageRank } from './page-rank.ts'

/**
 * Trust of pages (TrustRank, Gyöngyi, Garcia-Molina & Pedersen 2004, on the graph of pages; sums to 1): a reader begins at a vetted site, all of
 * them alike, and there at any of its pages. `vetted`: the pages of each, as nodes of the graph; sites without any are left out. `null`
 * when there is none: then no trust is known. O(edges) an iteration.
 */
export function pageTrust(graph: LinkGraph, vetted: ReadonlyArray<readonly number[]>): Float64Array | null {
  const known = vetted.filter(pages => pages.length > 0)
  if (!known.length) return null
  const start = new Float64Array(graph.nodes)
  for (const pages of known) for (const page of pages) start[page]! += 1 / (known.length * pages.length)
  return pageRank(graph, { start }).rank
}
