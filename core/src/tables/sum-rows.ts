import type { ColumnStore } from './column-store.ts'

export type ColumnSum = {
  known: number
  unknown: number
  repeats: number
  sum: number
  mean: number | null
  median: number | null
  min: number | null
  max: number | null
}

/**
 * Sum, mean, median and range of a number column over some rows; unknown cells are counted apart and enter nothing. With
 * `onceBy`, a number column that names groups, equal values of one group are one figure and enter once; `repeats` tells how many were
 * left out so. O(rows log rows).
 */
export function sumRows(store: ColumnStore, rows: Uint32Array, key: string, onceBy?: string): ColumnSum {
  const column = store.columns.get(key)
  if (column?.kind !== 'number') throw new TypeError(`"${key}" has no numbers to add up`)
  const groups = onceBy === undefined ? undefined : store.columns.get(onceBy)
  if (groups && groups.kind !== 'number') throw new TypeError(`"${onceBy}" does not name groups`)
  const counted = new Map<number, number[]>()
  let repeats = 0
  const known = new Float64Array(rows.length)
  let count = 0
  let sum = 0
  for (const row of rows) {
    const value = column.values[row]!
    if (Number.isNaN(value)) continue
    if (groups && value > 0) {
      const group = groups.values[row]!
      const seen = counted.get(group)
      if (seen?.includes(value)) {
        repeats++
        continue
      }
      if (seen) seen.push(value)
      else counted.set(group, [value])
    }
    known[count++] = value
    sum += value
  }
  if (!count)
    return { known: 0, unknown: rows.length, repeats: 0, sum: 0, mean: null, median: null, min: null, max: null }
  const sorted = known.subarray(0, count).sort()
  const middle = count >> 1
  return {
    known: count,
    unknown: rows.length - count - repeats,
    repeats,
    sum,
    mean: sum / count,
    median: count % 2 ? sorted[middle]! : (sorted[middle - 1]! + sorted[middle]!) / 2,
    min: sorted[0]!,
    max: sorted[count - 1]!,
  }
}

/** How many of some rows have each value of a code column; '' counts the unknown ones. */
export function countCodes(store: ColumnStore, rows: Uint32Array, key: string): Record<string, number> {
  const column = store.columns.get(key)
  if (column?.kind !== 'code') throw new TypeError(`"${key}" has no set of values`)
  const counts = new Uint32Array(column.names.length)
  for (const row of rows) counts[column.values[row]!]!++
  return Object.fromEntries(
    column.names.map((name, code): [string, number] => [name, counts[code]!]).filter(([, n]) => n > 0),
  )
}
