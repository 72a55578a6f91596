import { describe, expect, test } from 'vitest'
import { buildLinkGraph } from './link-graph.ts'
import { pageTrust } from './page-trust.ts'

/** Pages 0 and 1 are of a vetted site and link to 2, which links to 3; 4 and 5 link to each other only. */
const graph = buildLinkGraph(6, Int32Array.from([0, 1, 2, 4, 5]), Int32Array.from([2, 2, 3, 5, 4]))
const sum = (values: Float64Array): number => values.reduce((all, each) => all + each, 0)

describe('trust of pages', () => {
  test('comes from pages of vetted sites and goes where their links lead', () => {
    const trust = pageTrust(graph, [[0, 1]])!
    expect(sum(trust)).toBeCloseTo(1)
    expect(trust[2]).toBeGreaterThan(trust[3]!)
    expect(trust[3]).toBeGreaterThan(0)
    expect([trust[4], trust[5]]).toEqual([0, 0])
  })
  test('each vetted site gives alike, however many pages it has', () => {
    const trust = pageTrust(graph, [[0, 1], [4]])!
    expect(trust[4]! + trust[5]!).toBeGreaterThan(trust[0]! + trust[1]!)
    // Half of all starts at 4 and stays with 5: nothing leaks there, while 3 gives all of what it has back to the start.
    expect(trust[0]).toBeCloseTo(trust[1]!)
  })
  test('a vetted site without pages in the graph changes nothing; without any page none is known', () => {
    expect(pageTrust(graph, [[], [0, 1]])).toEqual(pageTrust(graph, [[0, 1]]))
    expect(pageTrust(graph, [[]])).toBeNull()
    expect(pageTrust(graph, [])).toBeNull()
  })
})
