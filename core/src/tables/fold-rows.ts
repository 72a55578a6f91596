import type { ColumnStore } from './column-store.ts'
import { NumberIds } from './number-ids.ts'
import { pickRows } from './sort-rows.ts'

export type Folded = {
  /** Rows to show: faces where their group stood first or best, members of open groups right after their face. */
  rows: Uint32Array
  /** Members among the given rows of the group whose face a row is; 1 for a face alone and for every other row. */
  sizeOf(row: number): number
  /** Whether a row is shown under a face. */
  isInside(row: number): boolean
}

/**
 * Groups of a column as small numbers, a row each; -1 = unknown. `sizes`: how many rows each has. `several`: 1 for the rows whose group
 * has others, the only ones that anything about groups concerns.
 */
export type Groups = { ofRow: Int32Array; count: number; sizes: Uint32Array; several: Uint8Array }

const groupsKept = new WeakMap<ColumnStore, { version: number; by: string; groups: Groups }>()
/** Numbers the groups of a column. O(rows), once for a version of the store. Throws TypeError where the column has no numbers. */
export function groupRows(store: ColumnStore, by: string): Groups {
  const kept = groupsKept.get(store)
  if (kept?.version === store.version && kept.by === by) return kept.groups
  const column = store.columns.get(by)
  if (column?.kind !== 'number') throw new TypeError(`"${by}" does not name groups`)
  const ids = new NumberIds()
  const ofRow = new Int32Array(store.count)
  for (let row = 0; row < ofRow.length; row++) {
    const value = column.values[row]!
    ofRow[row] = Number.isNaN(value) ? -1 : ids.add(value)
  }
  const sizes = new Uint32Array(ids.count)
  for (let row = 0; row < ofRow.length; row++) if (ofRow[row]! >= 0) sizes[ofRow[row]!]!++
  const several = new Uint8Array(ofRow.length)
  for (let row = 0; row < ofRow.length; row++) if (ofRow[row]! >= 0 && sizes[ofRow[row]!]! > 1) several[row] = 1
  const groups = { ofRow, count: ids.count, sizes, several }
  groupsKept.set(store, { version: store.version, by, groups })
  return groups
}

/**
 * Folds rows of one group (equal numbers in the column `by`) under its face: the row with the largest `face`, of several the one that
 * arrived first. The order of faces is that of the given rows. Rows whose group is unknown stay alone. `open` holds ids of faces whose
 * members are shown. O(rows + groups).
 */
export function foldRows(
  store: ColumnStore,
  rows: Uint32Array,
  by: string,
  face: string,
  open: ReadonlySet<number>,
): Folded {
  const weights = store.columns.get(face)
  if (weights?.kind !== 'number') throw new TypeError(`cannot fold with "${face}" in front`)
  const { ofRow, count: groupCount, several } = groupRows(store, by)
  const members = pickRows(rows, several)
  const sizes = new Uint32Array(groupCount)
  const faces = new Uint32Array(groupCount)
  const weightOf = weights.values
  for (let at = 0; at < members.length; at++) {
    const row = members[at]!
    const group = ofRow[row]!
    if (sizes[group]!++ === 0) {
      faces[group] = row
      continue
    }
    const face = faces[group]!
    // An unknown weight is less than any known one.
    const weight = Number.isNaN(weightOf[row]!) ? Number.NEGATIVE_INFINITY : weightOf[row]!
    const before = Number.isNaN(weightOf[face]!) ? Number.NEGATIVE_INFINITY : weightOf[face]!
    if (weight > before || (weight === before && row < face)) faces[group] = row
  }
  const isFace = (row: number): boolean => faces[ofRow[row]!] === row
  const opened = new Map<number, number[]>()
  for (const id of open) {
    const row = store.rowOf(id)
    if (row !== undefined && several[row] && sizes[ofRow[row]!]! > 1 && isFace(row)) opened.set(ofRow[row]!, [])
  }
  const inside = new Set<number>()
  if (opened.size)
    for (const row of members)
      if (opened.has(ofRow[row]!) && !isFace(row)) {
        opened.get(ofRow[row]!)!.push(row)
        inside.add(row)
      }
  const out = new Uint32Array(rows.length)
  let count = 0
  for (let at = 0; at < rows.length; at++) {
    const row = rows[at]!
    if (several[row] && !isFace(row)) continue
    out[count++] = row
    if (opened.size && several[row]) for (const member of opened.get(ofRow[row]!) ?? []) out[count++] = member
  }
  return {
    rows: out.subarray(0, count),
    sizeOf: row => (several[row] && isFace(row) ? sizes[ofRow[row]!]! : 1),
    isInside: row => inside.has(row),
  }
}
