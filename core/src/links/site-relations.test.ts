import { describe, expect, test } from 'vitest'
import { anchorClass, type AnchorTarget } from './anchor-class.ts'
import { findBursts } from './bursts.ts'
import { hubsAndAuthorities } from './hubs.ts'
import { siteClusters } from './site-clusters.ts'

const graphOf = (nodes: number, pairs: Array<[number, number]>) => ({
  nodes,
  from: Int32Array.from(pairs, pair => pair[0]),
  to: Int32Array.from(pairs, pair => pair[1]),
  weight: new Float64Array(pairs.length).fill(1),
})

describe('clusters', () => {
  const clique = (from: number, size: number): Array<[number, number]> =>
    Array.from({ length: size }, (_, a) =>
      Array.from({ length: size }, (_, b): [number, number] => [from + a, from + b]).filter(([x, y]) => x < y),
    ).flat()
  test('groups that link each other are found, whatever the seed', () => {
    const graph = graphOf(18, [...clique(0, 8), ...clique(8, 6), ...clique(14, 4), [0, 8], [8, 14]])
    for (const seed of [1, 2, 3, 4]) {
      const clusters = siteClusters(graph, seed)
      expect([...clusters]).toEqual([...Array(8).fill(0), ...Array(6).fill(1), ...Array(4).fill(2)])
    }
  })
  test('the same graph gives the same clusters; without links each is alone', () => {
    expect(siteClusters(graphOf(3, []))).toEqual(Int32Array.of(0, 1, 2))
    const graph = graphOf(
      30,
      Array.from({ length: 60 }, (_, i): [number, number] => [(i * 7) % 30, (i * 11 + 3) % 30]),
    )
    expect(siteClusters(graph, 5)).toEqual(siteClusters(graph, 5))
  })
})

test('a hub links to what others link to as well', () => {
  const { hub, authority } = hubsAndAuthorities(
    graphOf(5, [
      [0, 3],
      [0, 4],
      [1, 3],
      [2, 4],
      [0, 2],
    ]),
  )
  expect(hub.indexOf(Math.max(...hub))).toBe(0)
  expect(authority[3]).toBeCloseTo(authority[4]!)
  expect(authority[3]!).toBeGreaterThan(authority[2]!)
  expect(hubsAndAuthorities(graphOf(2, [])).hub).toEqual(new Float64Array(2))
})

describe('bursts', () => {
  test('a period far above the usual is one, a rising tide is not', () => {
    const quiet = Array.from({ length: 40 }, (_, i) => 10 + ((i * 7) % 5))
    expect(findBursts([...quiet, 60, ...quiet]).map(burst => burst.at)).toEqual([40])
    expect(findBursts(Array.from({ length: 60 }, (_, i) => 10 + i))).toEqual([])
  })
  test('few are never many, and the beginning is not judged', () => {
    expect(findBursts([...Array(30).fill(0), 6])).toEqual([])
    expect(findBursts([...Array(30).fill(0), 12])).toMatchObject([{ at: 30, count: 12, usual: 0 }])
    expect(findBursts([1, 500, 1])).toEqual([])
  })
})

test.each<[string, 'text' | 'image', string]>([
  ['', 'image', 'image'],
  ['https://clay.example/x', 'text', 'address'],
  ['clay-harbour.example', 'text', 'address'],
  ['Click here', 'text', 'generic'],
  ['Clay Harbour', 'text', 'brand'],
  ['clayharbour', 'text', 'brand'],
  ['pottery wheel', 'text', 'exact'],
  ['wheels for pottery', 'text', 'partial'],
  ['Pottery wheels', 'text', 'exact'],
  ['pottery wheels at Clay Harbour', 'text', 'partial'],
  ['the shop of Clay Harbour', 'text', 'brand'],
  ['cheap wheel', 'text', 'partial'],
  ['lottery numbers', 'text', 'other'],
  ['', 'text', 'other'],
  ['→', 'text', 'other'],
])('the anchor "%s" of a %s is %s', (anchor, kind, expected) => {
  const target: AnchorTarget = {
    domain: 'clayharbour.example',
    brand: ['Clay Harbour'],
    phrases: ['pottery wheel'],
    language: 'en',
  }
  expect(anchorClass(anchor, kind, target)).toBe(expected)
})
