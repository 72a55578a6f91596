import type { PageState, WorkKind } from '@dew-trail/contract/plan'
import { type MapFlag, mapFlags, type SiteMap } from '@dew-trail/contract/site-map'

export type MapRow = {
  node: string
  parent: string | null
  depth: number
  /** How many rows stand right below it. */
  children: number
  folder: boolean
  canMove: boolean
  name: string
  address: string | null
  planned: number | null
  kind: WorkKind | null
  state: PageState | null
  deadline: string | null
  theme: string | null
  lead: string | null
  position: number | null
  searches: number | null
  visitsNow: number | null
  visits: number | null
  flags: MapFlag[]
  detail: string | null
}

/** The map's columns as rows, with what links say of them. Rows stand in the order of the tree. */
export function mapRows(map: SiteMap, unlinked: ReadonlySet<string>): MapRow[] {
  const depths: number[] = []
  const children = new Int32Array(map.nodes.length)
  for (const parent of map.parents) if (parent >= 0) children[parent]!++
  return map.nodes.map((node, i) => {
    const parent = map.parents[i]!
    const depth = parent < 0 ? 0 : depths[parent]! + 1
    depths.push(depth)
    const flags = mapFlags.filter(
      (flag, bit) => map.flags[i]! & (1 << bit) || (flag === 'noLinks' && unlinked.has(node)),
    )
    const folder = node.startsWith('folder:')
    return {
      node,
      parent: parent < 0 ? null : map.nodes[parent]!,
      depth,
      children: children[i]!,
      folder,
      canMove: !folder && i > 0,
      name: map.names[i]!,
      address: map.addresses[i]!,
      planned: map.planned[i]!,
      kind: map.kinds[i] as WorkKind | null,
      state: map.states[i] as PageState | null,
      deadline: map.deadlines[i]!,
      theme: map.themes[i]!,
      lead: map.leads[i]!,
      position: map.positions[i]!,
      searches: map.searches[i]!,
      visitsNow: map.visitsNow[i]!,
      visits: map.visits[i]!,
      flags,
      detail: map.details[i]!,
    }
  })
}

/** Rows in sight: none below a closed one; where something is looked for, what meets it and all above that. */
export function rowsInSight(
  rows: readonly MapRow[],
  closed: ReadonlySet<string>,
  meets: ((row: MapRow) => boolean) | null,
): MapRow[] {
  if (meets) {
    const kept = new Set<string>()
    // Children stand below their parents: from the end, each keeps the one above it.
    for (const row of rows.toReversed())
      if (kept.has(row.node) || meets(row)) {
        kept.add(row.node)
        if (row.parent) kept.add(row.parent)
      }
    return rows.filter(row => kept.has(row.node))
  }
  const hidden = new Set<string>()
  return rows.filter(row => {
    if (row.parent && (hidden.has(row.parent) || closed.has(row.parent))) {
      hidden.add(row.node)
      return false
    }
    return true
  })
}

/**
 * Rows with a page and all below it put under another, as the first of its children: how the map looks until the server tells in which
 * order they stand. Rows as they were where either is not there, or the page would stand below itself.
 */
export function withMoved(rows: readonly MapRow[], node: string, under: string | null): readonly MapRow[] {
  const from = rows.findIndex(row => row.node === node)
  if (from < 0) return rows
  const moved = rows[from]!
  let end = from + 1
  while (end < rows.length && rows[end]!.depth > moved.depth) end++
  const target = under === null || under === 'top' ? rows[0]! : rows.find(row => row.node === under)
  if (!target || target.node === moved.parent) return rows
  const at = rows.indexOf(target)
  if (at >= from && at < end) return rows
  const shift = target.depth + 1 - moved.depth
  const part = rows
    .slice(from, end)
    .map((row, i) => ({ ...row, depth: row.depth + shift, parent: i === 0 ? target.node : row.parent }))
  const rest = rows.filter((_, i) => i < from || i >= end)
  const position = rest.indexOf(target) + 1
  return [...rest.slice(0, position), ...part, ...rest.slice(position)].map(row =>
    row.node === target.node
      ? { ...row, children: row.children + 1 }
      : row.node === moved.parent
        ? { ...row, children: row.children - 1 }
        : row,
  )
}
