import { closeSync, openSync, readSync, rmSync, writeSync } from 'node:fs'
import { join } from 'node:path'

/** Edges of a block on disk, and those that are gathered before they are written. */
export const edgesOfBlock = 1 << 20
const gathered = 1 << 16
/** Edges of a range that are sorted in memory at once, on average: 16 bytes each, and as much again for a moment. */
const edgesOfRange = 12_000_000
const pairBytes = 8

/**
 * Edges to some nodes in a row, on disk: blocks of sources, then targets counted from `first`; in the order of their sources by groups of
 * 65,536, and within a group of their targets, so that what is looked up stays near in memory.
 */
export type EdgeRange = { first: number; last: number; file: string; blocks: number[] }
/** A directed graph without parallel edges and self links, whose edges are on disk. */
export type EdgesOnDisk = { folder: string; nodes: number; edges: number; ranges: EdgeRange[]; outDegree: Int32Array }

/**
 * Takes edges in any order and sorts them on disk by ranges of their targets, and within each by groups of sources: what a computation needs that holds
 * only the nodes of a range and reads everything else from front to back (Haveliwala 1999). `expected`: about how many edges there are.
 * Memory: 4 bytes a node and those of a range. O(edges).
 */
export class EdgeFiles {
  readonly #folder: string
  readonly #nodes: number
  readonly #rangeNodes: number
  readonly #files: number[] = []
  readonly #buffers: Int32Array[] = []
  readonly #filled: Int32Array
  readonly #counts: Float64Array

  /** `folder` is there, and is the caller's to remove. */
  constructor(folder: string, nodes: number, expected: number) {
    this.#folder = folder
    this.#nodes = nodes
    const ranges = Math.max(1, Math.min(nodes, Math.ceil(expected / edgesOfRange)))
    this.#rangeNodes = Math.max(1, Math.ceil(nodes / ranges))
    const count = Math.ceil(nodes / this.#rangeNodes)
    for (let i = 0; i < count; i++) {
      this.#files.push(openSync(join(folder, `raw-${i}`), 'w+'))
      this.#buffers.push(new Int32Array(2 * gathered))
    }
    this.#filled = new Int32Array(count)
    this.#counts = new Float64Array(count)
  }

  /** Adds an edge between nodes 0…nodes−1. */
  add(source: number, target: number): void {
    if (source === target) return
    const range = Math.floor(target / this.#rangeNodes)
    const buffer = this.#buffers[range]!
    const at = this.#filled[range]!
    buffer[at] = source
    buffer[at + 1] = target - range * this.#rangeNodes
    this.#filled[range] = at + 2
    if (at + 2 === buffer.length) this.#flush(range)
  }

  #flush(range: number): void {
    const filled = this.#filled[range]!
    if (!filled) return
    writeSync(this.#files[range]!, new Uint8Array(this.#buffers[range]!.buffer, 0, filled * 4))
    this.#counts[range]! += filled / 2
    this.#filled[range] = 0
  }

  /** Sorts what was added and gives the graph. */
  finish(): EdgesOnDisk {
    const outDegree = new Int32Array(this.#nodes)
    const ranges: EdgeRange[] = []
    let edges = 0
    for (const [i, raw] of this.#files.entries()) {
      this.#flush(i)
      this.#buffers[i] = new Int32Array(0)
      const first = i * this.#rangeNodes
      const last = Math.min(this.#nodes, first + this.#rangeNodes)
      const file = join(this.#folder, `edges-${i}`)
      const blocks = sortRange(raw, this.#counts[i]!, last - first, this.#nodes, file, outDegree)
      closeSync(raw)
      rmSync(join(this.#folder, `raw-${i}`))
      for (const count of blocks) edges += count
      ranges.push({ first, last, file, blocks })
    }
    return { folder: this.#folder, nodes: this.#nodes, edges, ranges, outDegree }
  }
}

/** Walks the edges of a raw file from front to back. */
function eachRaw(raw: number, count: number, take: (source: number, target: number) => void): void {
  const piece = new Int32Array(2 * gathered)
  for (let at = 0; at < count; at += gathered) {
    const pairs = Math.min(gathered, count - at)
    readSync(raw, new Uint8Array(piece.buffer, 0, pairs * pairBytes), 0, pairs * pairBytes, at * pairBytes)
    for (let i = 0; i < pairs; i++) take(piece[2 * i]!, piece[2 * i + 1]!)
  }
}

/**
 * Sorts the edges of a range by groups of sources and by target, leaves parallel ones out and counts the others. A range to which far more
 * lead than to others is sorted slice by slice of its sources. Gives how many edges each block has.
 */
function sortRange(
  raw: number,
  count: number,
  targetsInRange: number,
  nodes: number,
  file: string,
  outDegree: Int32Array,
): number[] {
  const groups = ((nodes - 1) >>> 16) + 1
  const ofGroup = new Float64Array(groups)
  eachRaw(raw, count, source => ofGroup[source >>> 16]!++)
  const blocks: number[] = []
  const out = openSync(file, 'w')
  try {
    for (let first = 0; first < groups; ) {
      let last = first
      let inSlice = 0
      while (last < groups && (last === first || inSlice + ofGroup[last]! <= edgesOfRange)) inSlice += ofGroup[last++]!
      const sources = new Uint32Array(inSlice)
      const targets = new Uint32Array(inSlice)
      let filled = 0
      eachRaw(raw, inSlice ? count : 0, (source, target) => {
        const group = source >>> 16
        if (group < first || group >= last) return
        sources[filled] = source
        targets[filled++] = target
      })
      writeSlice(out, sorted(sources, targets, targetsInRange, nodes), outDegree, blocks)
      first = last
    }
  } finally {
    closeSync(out)
  }
  return blocks
}

type Edges = { sources: Uint32Array; targets: Uint32Array }
/** Edges by groups of sources and by target, by the least digit first: each pass keeps the order of the one before. */
function sorted(sources: Uint32Array, targets: Uint32Array, targetsInRange: number, nodes: number): Edges {
  const count = sources.length
  let [now, other]: [Edges, Edges] = [
    { sources, targets },
    { sources: new Uint32Array(count), targets: new Uint32Array(count) },
  ]
  const byDigit = (of: keyof Edges, shift: number): void => {
    const keys = now[of]
    const starts = new Uint32Array((1 << 16) + 1)
    for (let i = 0; i < count; i++) starts[((keys[i]! >>> shift) & 0xffff) + 1]!++
    for (let i = 0; i < 1 << 16; i++) starts[i + 1]! += starts[i]!
    for (let i = 0; i < count; i++) {
      const to = starts[(keys[i]! >>> shift) & 0xffff]!++
      other.sources[to] = now.sources[i]!
      other.targets[to] = now.targets[i]!
    }
    ;[now, other] = [other, now]
  }
  byDigit('sources', 0)
  for (let shift = 0; shift < 32 && (targetsInRange - 1) >>> shift > 0; shift += 16) byDigit('targets', shift)
  if (nodes > 1 << 16) byDigit('sources', 16)
  return now
}

/** Writes sorted edges in blocks, each once, and counts the links out of their sources. */
function writeSlice(out: number, { sources, targets }: Edges, outDegree: Int32Array, blocks: number[]): void {
  let kept = 0
  for (let i = 0; i < sources.length; i++) {
    if (i && sources[i] === sources[i - 1] && targets[i] === targets[i - 1]) continue
    sources[kept] = sources[i]!
    targets[kept++] = targets[i]!
    outDegree[sources[i]!]!++
  }
  for (let at = 0; at < kept; at += edgesOfBlock) {
    const end = Math.min(kept, at + edgesOfBlock)
    for (const list of [sources, targets]) writeSync(out, new Uint8Array(list.buffer, at * 4, (end - at) * 4))
    blocks.push(end - at)
  }
}
