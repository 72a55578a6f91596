/**
 * A directed graph of follow links in compressed rows (CSR) by target: the sources that link to node t are
 * `sources[offsets[t] … offsets[t + 1])`. Parallel links are one edge and self links none.
 */
export type LinkGraph = { nodes: number; offsets: Uint32Array; sources: Int32Array; outDegree: Uint32Array }

const mostBuckets = 256
/** Rows up to this long are looked through for a parallel edge: quicker than jumping about in memory. */
const shortRow = 24

/**
 * Builds the graph from parallel arrays of edges. Two passes: edges are first spread over at most 256 ranges of targets, then sorted by
 * counting within each range, so that every scattered write stays near the last one (one pass over 10 million edges is four times
 * slower, for its misses in memory). O(edges + nodes), at most 18 bytes an edge with its input, and some for each node. Throws RangeError on a node outside.
 */
export function buildLinkGraph(nodes: number, from: Int32Array, to: Int32Array): LinkGraph {
  if (from.length !== to.length) throw new RangeError('an edge has two ends')
  const edges = from.length
  let shift = 0
  while (nodes > 0 && (nodes - 1) >>> shift >= mostBuckets) shift++
  const starts = countRanges(nodes, from, to, shift)
  const byRange = spreadEdges(from, to, shift, starts.slice())
  const offsets = new Int32Array(nodes + 1)
  const sources = new Int32Array(edges)
  const outDegree = new Int32Array(nodes)
  /** The target for which a source was last seen, to tell parallel edges. */
  const seenFor = new Int32Array(nodes).fill(-1)
  const rows = new Int32Array((1 << shift) + 1)
  let kept = 0
  for (let range = 0; range < mostBuckets && range << shift < nodes; range++) {
    const first = range << shift
    const last = Math.min(nodes, first + (1 << shift))
    sortRange(byRange, sources, rows, starts[range]!, starts[range + 1]!)
    kept = keepDifferent(sources, rows, seenFor, offsets, outDegree, first, last, starts[range]!, kept)
  }
  offsets[nodes] = kept
  return {
    nodes,
    offsets: new Uint32Array(offsets.buffer),
    sources: kept === edges ? sources : sources.slice(0, kept),
    outDegree: new Uint32Array(outDegree.buffer),
  }
}

// Each pass is a function of its own, with signed integers only: the compiler makes twice as quick a loop of it.

/** Where the edges of each range of targets begin. */
function countRanges(nodes: number, from: Int32Array, to: Int32Array, shift: number): Int32Array {
  const starts = new Int32Array(mostBuckets + 1)
  for (let i = 0; i < from.length; i++) {
    // A negative number read without its sign is a huge one.
    if (from[i]! >>> 0 >= nodes || to[i]! >>> 0 >= nodes)
      throw new RangeError(`edge ${i} joins ${from[i]} and ${to[i]}, but there are ${nodes} nodes`)
    starts[(to[i]! >> shift) + 1]!++
  }
  for (let i = 0; i < mostBuckets; i++) starts[i + 1]! += starts[i]!
  return starts
}

/** Edges by ranges of targets: the source, and the target's row within its range, which hardly ever needs more than 16 bits. */
type Spread = { sources: Int32Array; rows: Uint16Array | Int32Array }

function spreadEdges(from: Int32Array, to: Int32Array, shift: number, next: Int32Array): Spread {
  const edges = from.length
  const sources = new Int32Array(edges)
  const rows = shift <= 16 ? new Uint16Array(edges) : new Int32Array(edges)
  const inRange = (1 << shift) - 1
  for (let i = 0; i < edges; i++) {
    const target = to[i]!
    const at = next[target >> shift]!++
    sources[at] = from[i]!
    rows[at] = target & inRange
  }
  return { sources, rows }
}

/** Sorts one range by counting; afterwards `ends[r]` is the end of row r, counted from the start of the range. */
function sortRange({ sources, rows }: Spread, sorted: Int32Array, ends: Int32Array, start: number, end: number): void {
  ends.fill(0)
  for (let i = start; i < end; i++) ends[rows[i]! + 1]!++
  for (let row = 1; row < ends.length; row++) ends[row]! += ends[row - 1]!
  for (let i = start; i < end; i++) sorted[start + ends[rows[i]!]!++] = sources[i]!
}

/** Moves the sorted sources of a range together, without parallel edges and self links. Gives how many are kept up to its end. */
function keepDifferent(
  sources: Int32Array,
  rows: Int32Array,
  seenFor: Int32Array,
  offsets: Int32Array,
  outDegree: Int32Array,
  first: number,
  last: number,
  start: number,
  keptBefore: number,
): number {
  let kept = keptBefore
  let at = start
  for (let node = first; node < last; node++) {
    offsets[node] = kept
    const rowEnd = start + rows[node - first]!
    if (rowEnd - at <= shortRow) {
      const rowStart = kept
      for (; at < rowEnd; at++) {
        const source = sources[at]!
        let same = rowStart
        while (same < kept && sources[same] !== source) same++
        if (same < kept || source === node) continue
        sources[kept++] = source
        outDegree[source]!++
      }
      continue
    }
    for (; at < rowEnd; at++) {
      const source = sources[at]!
      if (source === node || seenFor[source] === node) continue
      seenFor[source] = node
      sources[kept++] = source
      outDegree[source]!++
    }
  }
  return kept
}
