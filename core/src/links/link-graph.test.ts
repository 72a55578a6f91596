import { readFileSync } from 'node:fs'
import { describe, expect, test } from 'vitest'
import wabt from 'wabt'
import { buildLinkGraph } from './link-graph.ts'
import { NotConverged, pageRank } from './page-rank.ts'
import { pageRankWasm } from './page-rank-wasm.ts'
import { floorOf, pullOf, standingOf } from './standing.ts'
import { siteEdgeWeight, trustAndDoubt, weightedRank } from './weighted-rank.ts'

const drawer = (seed: number) => {
  let state = seed
  return (n: number): number => {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0
    return Math.floor((state / 2 ** 32) * n)
  }
}
const randomEdges = (nodes: number, edges: number, seed: number): [Int32Array, Int32Array] => {
  const draw = drawer(seed)
  return [
    Int32Array.from({ length: edges }, () => draw(nodes)),
    // Squared, so that a few nodes have most links.
    Int32Array.from({ length: edges }, () => Math.floor((draw(1_000_000) / 1_000_000) ** 2 * nodes)),
  ]
}
/** The definition, by a dense matrix. */
function slowRank(nodes: number, from: Int32Array, to: Int32Array, start?: number[]): number[] {
  const edge = Array.from({ length: nodes }, () => new Set<number>())
  from.forEach((a, i) => {
    if (a !== to[i]) edge[a]!.add(to[i]!)
  })
  const begin = start ?? Array(nodes).fill(1 / nodes)
  const mass = begin.reduce((a, b) => a + b, 0)
  let rank = [...begin]
  for (let step = 0; step < 300; step++) {
    const next = Array(nodes).fill(0)
    let dangling = 0
    rank.forEach((value, node) => {
      if (!edge[node]!.size) dangling += value
      for (const other of edge[node]!) next[other] += (0.85 * value) / edge[node]!.size
    })
    rank = next.map((value, node) => value + (0.85 * dangling * begin[node]!) / mass + 0.15 * begin[node]!)
  }
  return rank
}

function expectClose(found: ArrayLike<number>, expected: ArrayLike<number>): void {
  expect(found).toHaveLength(expected.length)
  for (let node = 0; node < expected.length; node++) expect(found[node]).toBeCloseTo(expected[node]!, 7)
}

describe('the graph', () => {
  test('rows hold each source once, as a plain build says', () => {
    for (const [nodes, edges] of [
      [1, 0],
      [5, 20],
      [300, 2_000],
      [3_000, 9_000],
    ] as const) {
      const [from, to] = randomEdges(nodes, edges, nodes)
      const graph = buildLinkGraph(nodes, from, to)
      const rows = Array.from({ length: nodes }, () => new Set<number>())
      from.forEach((a, i) => {
        if (a !== to[i]) rows[to[i]!]!.add(a)
      })
      for (let node = 0; node < nodes; node++)
        expect([...graph.sources.subarray(graph.offsets[node], graph.offsets[node + 1])].sort((a, b) => a - b)).toEqual(
          [...rows[node]!].sort((a, b) => a - b),
        )
      expect(graph.outDegree.reduce((a, b) => a + b, 0)).toBe(graph.sources.length)
    }
  })
  test('a node outside is refused by name', () => {
    expect(() => buildLinkGraph(2, Int32Array.of(0), Int32Array.of(2))).toThrow('edge 0 joins 0 and 2')
    expect(() => buildLinkGraph(2, Int32Array.of(0), Int32Array.of())).toThrow(RangeError)
  })
})

describe('ranks', () => {
  test('are those of the definition, dangling nodes and chosen starts too', () => {
    for (const seed of [1, 2, 3]) {
      const [from, to] = randomEdges(60, 150, seed)
      const graph = buildLinkGraph(60, from, to)
      const { rank } = pageRank(graph)
      expectClose(rank, slowRank(60, from, to))
      expect(rank.reduce((a, b) => a + b, 0)).toBeCloseTo(1, 7)
      const start = Float64Array.from({ length: 60 }, (_, i) => (i < 3 ? 0.25 : 0))
      const chosen = pageRank(graph, { start }).rank
      expectClose(chosen, slowRank(60, from, to, [...start]))
    }
  })
  test('the weighted kind with equal weights is the plain kind', () => {
    const [from, to] = randomEdges(80, 300, 9)
    const graph = buildLinkGraph(80, from, to)
    const pairs: Array<[number, number]> = []
    for (let node = 0; node < 80; node++)
      for (let at = graph.offsets[node]!; at < graph.offsets[node + 1]!; at++) pairs.push([graph.sources[at]!, node])
    const weighted = weightedRank({
      nodes: 80,
      from: Int32Array.from(pairs, pair => pair[0]),
      to: Int32Array.from(pairs, pair => pair[1]),
      weight: new Float64Array(pairs.length).fill(2.5),
    }).rank
    expectClose(weighted, pageRank(graph).rank)
  })
  test('an even ring is even; no node, no rank', () => {
    const ring = buildLinkGraph(4, Int32Array.of(0, 1, 2, 3), Int32Array.of(1, 2, 3, 0))
    for (const value of pageRank(ring).rank) expect(value).toBeCloseTo(0.25, 9)
    expect(pageRank(buildLinkGraph(0, new Int32Array(0), new Int32Array(0))).rank).toHaveLength(0)
  })
  test('what does not settle is an error, and so is a start that is none', () => {
    const [from, to] = randomEdges(60, 150, 4)
    const graph = buildLinkGraph(60, from, to)
    expect(() => pageRank(graph, { mostIterations: 2 })).toThrow(NotConverged)
    expect(() => pageRank(graph, { start: new Float64Array(60) })).toThrow(RangeError)
    expect(() => pageRank(graph, { start: new Float64Array(3).fill(0.1) })).toThrow(RangeError)
    expect(() =>
      weightedRank(
        { nodes: 2, from: new Int32Array(0), to: new Int32Array(0), weight: new Float64Array(0) },
        new Float64Array(2),
      ),
    ).toThrow(RangeError)
  })
  test('WebAssembly gives what JavaScript gives, over many shapes of graphs', () => {
    for (const [nodes, edges] of [
      [1, 0],
      [3, 2],
      [500, 4_000],
      [5_000, 9_000],
      [20_000, 200_000],
    ] as const) {
      const [from, to] = randomEdges(nodes, edges, nodes + 1)
      const graph = buildLinkGraph(nodes, from, to)
      const start = Float64Array.from({ length: nodes }, (_, i) => (i % 3 === 0 ? 0.5 / Math.ceil(nodes / 3) : 0))
      for (const options of [{}, { start }]) {
        const fast = pageRank(graph, options)
        const slow = pageRank(graph, { ...options, kernel: 'plain' })
        const distance = fast.rank.reduce((sum, value, node) => sum + Math.abs(value - slow.rank[node]!), 0)
        expect(distance).toBeLessThan(2e-8)
      }
    }
  })
  test('the bytes are those of the text', async () => {
    const { parseWat } = await wabt()
    const text = readFileSync(new URL('./page-rank.wat', import.meta.url), 'utf8')
    expect(pageRankWasm()).toEqual(new Uint8Array(parseWat('page-rank.wat', text).toBinary({}).buffer))
  })
})

describe('standing, trust and doubt', () => {
  // 0 is vetted and links to 1; 2 and 3 only link each other and 4.
  const graph = {
    nodes: 5,
    from: Int32Array.of(0, 1, 2, 3, 2, 3),
    to: Int32Array.of(1, 0, 3, 2, 4, 4),
    weight: new Float64Array(6).fill(1),
  }
  test('rank that comes from nobody vetted is doubtful', () => {
    const { rank } = weightedRank(graph)
    const { trust, doubt } = trustAndDoubt(graph, rank, [0])
    expect(trust[1]!).toBeGreaterThan(0.3)
    expect([trust[2], trust[3], trust[4]]).toEqual([0, 0, 0])
    expect(doubt[4]).toBe(1)
    expect(doubt[1]!).toBeLessThan(0)
    expect(() => trustAndDoubt(graph, rank, [])).toThrow(RangeError)
  })
  test('standing is 0 at the floor, 100 at the reference, and grows by the log', () => {
    expect(standingOf(0.15 / 100, 100, 0.15, 15)).toBe(0)
    expect(standingOf(15 / 100, 100, 0.15, 15)).toBe(100)
    expect(standingOf(1.5 / 100, 100, 0.15, 15)).toBeCloseTo(50)
    expect(standingOf(1, 100, 0.15, 15)).toBe(100)
    expect(() => standingOf(1, 1, 0.15, 0.1)).toThrow(RangeError)
    expect(floorOf(Float64Array.of(0.5, 0.1, 0.4))).toBeCloseTo(0.3)
  })
  test('a link of many passes on less', () => {
    const pull = (out: number): number => pullOf(0.05, out, 100, 0.15, 15)
    expect(pull(1)).toBeGreaterThan(pull(10))
    expect(pull(1_000)).toBeGreaterThanOrEqual(0)
    expect(siteEdgeWeight(8)).toBe(4)
    expect(siteEdgeWeight(1)).toBe(1)
  })
})
