import type { TreeNode, WordTree } from '@dew-trail/core/words/word-tree'

export type PlacedNode = {
  key: string
  node: TreeNode
  side: 'before' | 'after'
  depth: number
  x: number
  y: number
  parent: string | null
  /** Keys of its siblings in order, itself among them. */
  siblings: string[]
}
export type TreeLayout = {
  nodes: PlacedNode[]
  width: number
  height: number
  seedX: number
  seedY: number
  seedWidth: number
}

const lineHeight = 19
/** Pixels of a text, near enough for laying out: the face is even and the size fixed. */
const textWidth = (text: string): number => text.length * 6.4 + 10
const gap = 26

/**
 * Places a word tree: the seed in the middle, what follows it to the right, what stands before it to the left. Every leaf has a
 * line of its own, so nothing overlaps; a branch stands at the middle of its leaves; each depth is as wide as its longest words.
 */
export function layOutTree(tree: WordTree, seed: string): TreeLayout {
  const sides = { before: tree.before, after: tree.after } as const
  const widths: Record<'before' | 'after', number[]> = { before: [], after: [] }
  const measure = (nodes: TreeNode[], side: 'before' | 'after', depth: number): void => {
    for (const node of nodes) {
      widths[side][depth] = Math.max(widths[side][depth] ?? 0, textWidth(labelOf(node)))
      measure(node.children, side, depth + 1)
    }
  }
  for (const side of ['before', 'after'] as const) measure(sides[side], side, 0)
  const seedWidth = textWidth(seed) + 24
  const sum = (list: number[], until: number): number =>
    list.slice(0, until).reduce((all, width) => all + width + gap, 0)
  const leftWidth = sum(widths.before, widths.before.length)
  const seedX = leftWidth + (leftWidth ? gap : 0) + 8
  const nodes: PlacedNode[] = []
  const heights = { before: 0, after: 0 }
  const place = (list: TreeNode[], side: 'before' | 'after', depth: number, parent: string | null): number[] => {
    const keys = list.map((node, i) => `${parent ?? side}/${i}:${node.words}`)
    return list.map((node, i) => {
      const key = keys[i]!
      const at = nodes.length
      const x =
        side === 'after' ? seedX + seedWidth + gap + sum(widths.after, depth) : seedX - gap - sum(widths.before, depth)
      nodes.push({ key, node, side, depth, x, y: 0, parent, siblings: keys })
      const below = place(node.children, side, depth + 1, key)
      // A branch that is a keyword itself keeps a line of its own above its children.
      const y = below.length ? (below[0]! + below.at(-1)!) / 2 : (heights[side] += lineHeight)
      nodes[at]!.y = y
      return y
    })
  }
  place(sides.before, 'before', 0, null)
  place(sides.after, 'after', 0, null)
  const height = Math.max(heights.before, heights.after, lineHeight * 3) + lineHeight
  // The shorter side stands in the middle of the longer one.
  for (const placed of nodes) placed.y += (height - lineHeight - heights[placed.side]) / 2
  const width = seedX + seedWidth + gap + sum(widths.after, widths.after.length) + 8
  return { nodes, width, height, seedX, seedY: height / 2, seedWidth }
}

export const labelOf = (node: TreeNode): string =>
  node.children.length ? `${node.words} · ${node.phrases}` : node.words
