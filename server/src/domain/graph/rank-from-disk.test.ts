import { buildLinkGraph } from '@dew-trail/core/links/link-graph'
import { pageRank } from '@dew-trail/core/links/page-rank'
import { pageTrust } from '@dew-trail/core/links/page-trust'
import { seededDraw } from '@dew-trail/core/links/seeded-draw'
import { mkdtempSync, readdirSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterEach, beforeEach, describe, expect, test } from 'vitest'
import { EdgeFiles, type EdgesOnDisk } from './edge-files.ts'
import { rankFromDisk, readRanks } from './rank-from-disk.ts'

let folder: string
beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'dew-trail-edges-'))
})
afterEach(() => rmSync(folder, { recursive: true, force: true }))

/** A graph with hubs, parallel edges, self links, and nodes without links out. */
function edgesOf(nodes: number, edges: number): [Int32Array, Int32Array] {
  const draw = seededDraw(7)
  const from = Int32Array.from({ length: edges }, () => Math.floor(draw() * nodes * 0.9))
  const to = Int32Array.from({ length: edges }, (_, i) => (i % 50 ? Math.floor(draw() ** 3 * nodes) : from[i]!))
  return [from, to]
}
function onDisk(nodes: number, [from, to]: [Int32Array, Int32Array], expected: number): EdgesOnDisk {
  const files = new EdgeFiles(folder, nodes, expected)
  for (let i = 0; i < from.length; i++) files.add(from[i]!, to[i]!)
  return files.finish()
}
const furthest = (a: Float64Array, b: Float64Array): number =>
  a.reduce((most, each, i) => Math.max(most, Math.abs(each - b[i]!)), 0)

describe('ranks of a graph whose edges are on disk', () => {
  // As many ranges as if there were far more edges than there are.
  test.each([
    [1, 2_000, 30_000, 30_000],
    [5, 2_000, 30_000, 60_000_000],
    [9, 3_000_001, 900_000, 108_000_000],
  ])('in %i ranges are those in memory to 1e-9', async (ranges, nodes, edges, expected) => {
    const list = edgesOf(nodes, edges)
    const graph = onDisk(nodes, list, expected)
    const inMemory = buildLinkGraph(nodes, ...list)
    expect(graph.ranges).toHaveLength(ranges)
    expect(graph.edges).toBe(inMemory.sources.length)
    expect([...graph.outDegree.subarray(0, 2_000)]).toEqual([...inMemory.outDegree.subarray(0, 2_000)])
    const ranks = await readRanks(await rankFromDisk(graph), nodes)
    expect(furthest(ranks, pageRank(inMemory).rank)).toBeLessThan(1e-9)
    expect(ranks.reduce((sum, each) => sum + each, 0)).toBeCloseTo(1, 9)
  })
  test('so is trust, which begins at some nodes', async () => {
    const list = edgesOf(2_000, 30_000)
    const graph = onDisk(2_000, list, 60_000_000)
    const start = new Map([
      [3, 0.25],
      [4, 0.25],
      [900, 0.5],
    ])
    const trust = await readRanks(await rankFromDisk(graph, { start }, 'trust'), 2_000)
    expect(furthest(trust, pageTrust(buildLinkGraph(2_000, ...list), [[3, 4], [900]])!)).toBeLessThan(1e-9)
  })
  test('a graph without edges ranks all alike; what was not sorted yet is gone from the disk', async () => {
    const graph = onDisk(10, [new Int32Array(0), new Int32Array(0)], 0)
    for (const rank of await readRanks(await rankFromDisk(graph), 10)) expect(rank).toBeCloseTo(0.1, 12)
    expect(readdirSync(folder).some(name => name.startsWith('raw'))).toBe(false)
  })
  test('ranks that do not settle are an error, not a result', async () => {
    const graph = onDisk(2_000, edgesOf(2_000, 30_000), 1)
    await expect(rankFromDisk(graph, { mostIterations: 3 })).rejects.toThrow('did not settle')
  })
})
