import { wordTree } from '@dew-trail/core/words/word-tree'
import { describe, expect, test } from 'vitest'
import { layOutTree } from './tree-layout.ts'

const phrases = Array.from({ length: 300 }, (_, i) => ({
  id: i,
  phrase: i % 3 ? `kiln ${['for', 'with', 'near'][i % 3]} word${i % 40} tail${i}` : `how to head${i} kiln`,
  weight: i,
}))

describe('the layout of a word tree', () => {
  const layout = layOutTree(wordTree('kiln', phrases), 'kiln')
  test('gives every leaf a line of its own and keeps all inside the picture', () => {
    for (const side of ['before', 'after'] as const) {
      const leaves = layout.nodes.filter(each => each.side === side && !each.node.children.length).map(each => each.y)
      const sorted = [...leaves].sort((a, b) => a - b)
      for (let i = 1; i < sorted.length; i++) expect(sorted[i]! - sorted[i - 1]!).toBeGreaterThanOrEqual(18)
    }
    for (const { x, y } of layout.nodes) {
      expect(x).toBeGreaterThan(0)
      expect(x).toBeLessThan(layout.width)
      expect(y).toBeGreaterThan(0)
      expect(y).toBeLessThan(layout.height)
    }
  })
  test('what follows stands to the right of the seed, what comes before to the left, children further out', () => {
    const byKey = new Map(layout.nodes.map(each => [each.key, each]))
    for (const each of layout.nodes) {
      if (each.side === 'after') expect(each.x).toBeGreaterThan(layout.seedX + layout.seedWidth)
      else expect(each.x).toBeLessThan(layout.seedX)
      const parent = each.parent === null ? undefined : byKey.get(each.parent)!
      if (parent) expect(Math.abs(each.x - layout.seedX)).toBeGreaterThan(Math.abs(parent.x - layout.seedX))
    }
  })
  test('keys are unique, siblings name each other, a lone seed has a picture too', () => {
    expect(new Set(layout.nodes.map(each => each.key)).size).toBe(layout.nodes.length)
    for (const each of layout.nodes) expect(each.siblings).toContain(each.key)
    expect(layOutTree(wordTree('kiln', []), 'kiln').nodes).toEqual([])
  })
})
