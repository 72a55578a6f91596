import type { ColumnStore } from './column-store.ts'

export type Folded = {
  /** Rows to show: faces where their group stood first or best, members of open groups right after their face. */
  rows: Uint32Array
  /** Members of the group among the given rows, by face; faces of one alone are left out. */
  sizes: Map<number, number>
  /** Rows shown under a face. */
  inside: Set<number>
}

/**
 * Folds rows of one group (equal numbers in the column `by`) under its face: the row with the largest `face`, of several the
 * first. The order of faces is that of the given rows. Rows whose group is unknown stay alone. `open` holds ids of faces
 * whose members are shown. O(rows).
 */
export function foldRows(
  store: ColumnStore,
  rows: Uint32Array,
  by: string,
  face: string,
  open: ReadonlySet<number>,
): Folded {
  const groups = store.columns.get(by)
  const weights = store.columns.get(face)
  if (groups?.kind !== 'number' || weights?.kind !== 'number')
    throw new TypeError(`cannot fold by "${by}" and "${face}"`)
  const faces = new Map<number, { row: number; weight: number; size: number }>()
  for (const row of rows) {
    const group = groups.values[row]!
    if (Number.isNaN(group)) continue
    const weight = Number.isNaN(weights.values[row]!) ? -1 : weights.values[row]!
    const known = faces.get(group)
    if (!known) faces.set(group, { row, weight, size: 1 })
    else {
      known.size++
      if (weight > known.weight) Object.assign(known, { row, weight })
    }
  }
  const opened = new Map<number, number[]>()
  for (const { row, size } of faces.values())
    if (size > 1 && open.has(store.ids[row]!)) opened.set(groups.values[row]!, [])
  if (opened.size)
    for (const row of rows) {
      const group = groups.values[row]!
      if (opened.has(group) && faces.get(group)!.row !== row) opened.get(group)!.push(row)
    }
  const out: number[] = []
  const sizes = new Map<number, number>()
  const inside = new Set<number>()
  for (const row of rows) {
    const group = groups.values[row]!
    const own = Number.isNaN(group) ? undefined : faces.get(group)!
    if (own && own.row !== row) continue
    out.push(row)
    if (!own || own.size === 1) continue
    sizes.set(row, own.size)
    for (const member of opened.get(group) ?? []) {
      out.push(member)
      inside.add(member)
    }
  }
  return { rows: Uint32Array.from(out), sizes, inside }
}
