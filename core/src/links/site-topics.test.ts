import { describe, expect, test } from 'vitest'
import { findTopics, type SiteText, topicShares } from './site-topics.ts'
import type { WeightedGraph } from './weighted-rank.ts'

const subjects = [
  ['kiln', 'glaze', 'pottery', 'stoneware', 'clay', 'firing', 'raku', 'mugs'],
  ['garden', 'tulip', 'compost', 'hedge', 'seedling', 'mulch', 'orchard', 'lawn'],
  ['bicycle', 'gear', 'saddle', 'spoke', 'tyre', 'pedal', 'chain', 'helmet'],
]
/** Sites that each write of one subject, in words of it in turn, and all of them "guide" and "shop". */
const sites = (each: number): SiteText[] =>
  Array.from({ length: each * subjects.length }, (_, node) => {
    const words = subjects[node % subjects.length]!
    return {
      node,
      language: 'en',
      texts: Array.from(
        { length: 5 },
        (_, t) => `Guide and shop: ${[0, 1, 2].map(k => words[(node + t + 3 * k) % 8]).join(' ')}`,
      ),
    }
  })
const graphOf = (nodes: number, pairs: Array<[number, number]>): WeightedGraph => ({
  nodes,
  from: Int32Array.from(pairs, pair => pair[0]),
  to: Int32Array.from(pairs, pair => pair[1]),
  weight: new Float64Array(pairs.length).fill(1),
})

describe('topics of sites', () => {
  test('sites of one subject make one topic, named by its own words', () => {
    const all = sites(18)
    const topics = findTopics(all)
    expect(topics).toHaveLength(3)
    for (const { members, words } of topics) {
      const subject = members[0]! % 3
      expect(members.every(node => node % 3 === subject)).toBe(true)
      expect(members).toHaveLength(18)
      expect(words.every(word => subjects[subject]!.includes(word))).toBe(true)
    }
    expect(findTopics(all)).toEqual(topics)
  })
  test('few sites, or sites without words, show none', () => {
    expect(findTopics(sites(3))).toEqual([])
    expect(findTopics(sites(9).map(site => ({ ...site, texts: ['', '  '] })))).toEqual([])
  })
})

describe('where standing comes from', () => {
  const topics = [
    { words: ['kiln'], members: [0, 1, 2] },
    { words: ['garden'], members: [3, 4, 5] },
  ]
  test('a site without a word has the topics of those that link to it, in proportion', () => {
    const graph = graphOf(9, [
      [0, 6],
      [1, 6],
      [3, 7],
      [4, 7],
      [2, 7],
    ])
    const shares = topicShares(graph, topics)
    const of = (node: number): number[] => [...shares.subarray(node * 2, node * 2 + 2)]
    expect(of(6)[0]).toBeCloseTo(1, 6)
    expect(of(7)[1]).toBeCloseTo(2 / 3, 6)
    for (const node of [0, 3, 6, 7]) expect(of(node)[0]! + of(node)[1]!).toBeCloseTo(1, 9)
    // Nobody links to it and it is about nothing: unknown, not zero.
    expect(of(8)).toEqual([Number.NaN, Number.NaN])
  })
  test('without topics there is nothing to share', () => {
    expect(topicShares(graphOf(3, [[0, 1]]), [])).toHaveLength(0)
  })
})
