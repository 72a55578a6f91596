import { NotConverged, pageRankDefaults } from '@dew-trail/core/links/page-rank'
import { type FileHandle, open } from 'node:fs/promises'
import { join } from 'node:path'
import { edgesOfBlock, type EdgesOnDisk } from './edge-files.ts'

/** Nodes whose values are read or written at a time. */
const nodesOfPiece = 1 << 20
const [doubleBytes, edgeBytes] = [8, 8]

/** `start`: where a random reader begins, as shares by node that sum to 1; even over all nodes where it is left out. */
export type DiskRankOptions = {
  damping?: number
  tolerance?: number
  mostIterations?: number
  start?: ReadonlyMap<number, number>
}
/** Ranks as doubles in a file, node by node. */
export type RanksOnDisk = { file: string; iterations: number }

/**
 * The same ranks as `pageRank` of a graph whose edges, and whose ranks too, are larger than memory: for one range of nodes after another what
 * they get is summed in memory, while edges and what each node gives are read from front to back (Haveliwala 1999; Kyrola, Blelloch &
 * Guestrin 2012). What comes next is read while what is here is summed. O(edges + ranges × nodes) of reading an iteration. Throws
 * NotConverged.
 */
export async function rankFromDisk(
  graph: EdgesOnDisk,
  options: DiskRankOptions = {},
  name = 'rank',
): Promise<RanksOnDisk> {
  const { damping, tolerance, mostIterations } = { ...pageRankDefaults, ...options }
  const { nodes, ranges, outDegree, folder } = graph
  const file = join(folder, `${name}-values`)
  const { start } = options
  const pieceNodes = Math.min(nodes, nodesOfPiece)
  const [ranks, gifts] = [new Float64Array(pieceNodes), new Float64Array(pieceNodes)]
  const values = await open(file, 'w+')
  let [given, next] = [await open(join(folder, `${name}-given`), 'w+'), await open(join(folder, `${name}-next`), 'w+')]
  const edges = await Promise.all(ranges.map(range => open(range.file, 'r')))
  try {
    let held = 0
    await eachPiece(0, nodes, async (first, last) => {
      const [rank, gives] = [ranks.subarray(0, last - first), gifts.subarray(0, last - first)]
      if (start) for (let node = first; node < last; node++) rank[node - first] = start.get(node) ?? 0
      else rank.fill(1 / nodes)
      held += shareOut(rank, gives, outDegree, first)
      await write(values, rank, first)
      await write(given, gives, first)
    })
    const most = Math.max(0, ...ranges.map(range => range.last - range.first))
    const sums = new Float64Array(most)
    for (let iterations = 1; iterations <= mostIterations; iterations++) {
      const spread = damping * held + (1 - damping)
      let [norm, nextHeld] = [0, 0]
      for (const [i, range] of ranges.entries()) {
        sums.fill(0)
        await sumRange(edges[i]!, range.blocks, given, nodes, sums)
        await eachPiece(range.first, range.last, async (first, last) => {
          const [rank, gives] = [ranks.subarray(0, last - first), gifts.subarray(0, last - first)]
          await read(values, rank, first)
          const got = sums.subarray(first - range.first, last - range.first)
          scale(got, damping, start ? 0 : spread / nodes)
          if (start)
            for (const [node, share] of start) if (node >= first && node < last) got[node - first]! += spread * share
          norm += replace(rank, got)
          nextHeld += shareOut(rank, gives, outDegree, first)
          await write(values, rank, first)
          await write(next, gives, first)
        })
      }
      held = nextHeld
      ;[given, next] = [next, given]
      if (norm < tolerance) return { file, iterations }
    }
    throw new NotConverged(`ranks did not settle to ${tolerance} within ${mostIterations} iterations`)
  } finally {
    await Promise.all([values, given, next, ...edges].map(handle => handle.close()))
  }
}

// Each pass over a piece is a function of its own: the compiler makes a much quicker loop of it.

function scale(values: Float64Array, by: number, plus: number): void {
  for (let i = 0; i < values.length; i++) values[i] = by * values[i]! + plus
}
/** Puts new values in the place of old ones; gives by how much they differ in all. */
function replace(old: Float64Array, values: Float64Array): number {
  let norm = 0
  for (let i = 0; i < old.length; i++) {
    norm += Math.abs(values[i]! - old[i]!)
    old[i] = values[i]!
  }
  return norm
}
/** What nodes give to each of their links; gives what those without links hold. */
function shareOut(rank: Float64Array, gives: Float64Array, outDegree: Int32Array, first: number): number {
  let held = 0
  for (let i = 0; i < rank.length; i++) {
    const links = outDegree[first + i]!
    if (links) gives[i] = rank[i]! / links
    else {
      gives[i] = 0
      held += rank[i]!
    }
  }
  return held
}

/** Adds to each target what the sources of its edges give. */
async function sumRange(
  file: FileHandle,
  blocks: readonly number[],
  given: FileHandle,
  nodes: number,
  sums: Float64Array,
): Promise<void> {
  const buffers = [new Int32Array(2 * edgesOfBlock), new Int32Array(2 * edgesOfBlock)]
  const starts: number[] = []
  let bytes = 0
  for (const count of blocks) {
    starts.push(bytes)
    bytes += count * edgeBytes
  }
  const load = (block: number): Promise<unknown> | undefined =>
    block < blocks.length
      ? file.read(new Uint8Array(buffers[block % 2]!.buffer), 0, blocks[block]! * edgeBytes, starts[block]!)
      : undefined
  const gives = new Pieces(given, nodes)
  let coming = load(0)
  for (const [block, count] of blocks.entries()) {
    await coming
    coming = load(block + 1)
    const edges = buffers[block % 2]!
    for (let at = 0; at < count; ) {
      const piece = await gives.upTo(edges[at]!)
      at = addRun(edges, at, count, piece.values, piece.first, piece.last, sums)
    }
  }
  await coming
  await gives.end()
}

/** Sums edges of a block as long as their sources lie in a piece; gives where it ended. */
function addRun(
  edges: Int32Array,
  from: number,
  count: number,
  gives: Float64Array,
  first: number,
  last: number,
  sums: Float64Array,
): number {
  let at = from
  for (; at < count; at++) {
    const source = edges[at]!
    if (source >= last) break
    sums[edges[count + at]!]! += gives[source - first]!
  }
  return at
}

type Piece = { first: number; last: number; values: Float64Array }
/** What nodes give, read piece by piece from front to back, the next one while one is in use. */
class Pieces {
  readonly #file: FileHandle
  readonly #nodes: number
  readonly #buffers = [new Float64Array(nodesOfPiece), new Float64Array(nodesOfPiece)]
  #at = -1
  #coming: Promise<unknown> | undefined

  constructor(file: FileHandle, nodes: number) {
    this.#file = file
    this.#nodes = nodes
    this.#coming = this.#load(0)
  }

  #load(piece: number): Promise<unknown> | undefined {
    const first = piece * nodesOfPiece
    const count = Math.min(nodesOfPiece, this.#nodes - first)
    if (count <= 0) return undefined
    return this.#file.read(
      new Uint8Array(this.#buffers[piece % 2]!.buffer),
      0,
      count * doubleBytes,
      first * doubleBytes,
    )
  }

  /** The piece that a node lies in, which must not lie before the one that was asked for last; it has whole groups of sources. */
  async upTo(node: number): Promise<Piece> {
    const wanted = Math.floor(node / nodesOfPiece)
    while (this.#at < wanted) {
      await this.#coming
      this.#at++
      this.#coming = this.#load(this.#at + 1)
    }
    const first = this.#at * nodesOfPiece
    return { first, last: Math.min(this.#nodes, first + nodesOfPiece), values: this.#buffers[this.#at % 2]! }
  }

  async end(): Promise<void> {
    await this.#coming
  }
}

/** Walks nodes in pieces. */
async function eachPiece(
  from: number,
  to: number,
  work: (first: number, last: number) => Promise<void>,
): Promise<void> {
  for (let first = from; first < to; first += nodesOfPiece) await work(first, Math.min(to, first + nodesOfPiece))
}
const bytesOf = (values: Float64Array): Uint8Array =>
  new Uint8Array(values.buffer, values.byteOffset, values.byteLength)
const read = (file: FileHandle, values: Float64Array, first: number): Promise<unknown> =>
  file.read(bytesOf(values), 0, values.byteLength, first * doubleBytes)
const write = (file: FileHandle, values: Float64Array, first: number): Promise<unknown> =>
  file.write(bytesOf(values), 0, values.byteLength, first * doubleBytes)

/** All ranks of a file in memory, 8 bytes a node. */
export async function readRanks({ file }: RanksOnDisk, nodes: number): Promise<Float64Array> {
  const ranks = new Float64Array(nodes)
  const handle = await open(file, 'r')
  try {
    await eachPiece(0, nodes, (first, last) => read(handle, ranks.subarray(first, last), first).then(() => undefined))
  } finally {
    await handle.close()
  }
  return ranks
}
