import type { ColumnStore } from './column-store.ts'
import { groupRows } from './fold-rows.ts'
import type { OnceBy } from './once-by.ts'

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
 * Sum, mean, median and range of a number column over some rows; unknown cells are counted apart and enter nothing. With `onceBy`, rows that
 * have one figure together enter as one row, with the mean of their values; `repeats` tells how many more there were. So a family for which
 * the ads data has one number is summed once, and what follows from that number (visits, worth) is too. O(rows) on average.
 */
export function sumRows(store: ColumnStore, rows: Uint32Array, key: string, once?: OnceBy): ColumnSum {
  const column = store.columns.get(key)
  if (column?.kind !== 'number') throw new TypeError(`"${key}" has no numbers to add up`)
  const onceBy = once?.follow.includes(key) ? once : undefined
  const groups = onceBy === undefined ? undefined : groupRows(store, onceBy.group)
  const figures = onceBy && store.columns.get(onceBy.figure)
  if (figures && figures.kind !== 'number') throw new TypeError(`"${onceBy.figure}" has no numbers to compare`)
  const together = new Map<number, Array<{ figure: number; sum: number; rows: number }>>()
  let repeats = 0
  const known = new Float64Array(rows.length)
  let count = 0
  let sum = 0
  for (const row of rows) {
    const value = column.values[row]!
    if (Number.isNaN(value)) continue
    // Only rows of a group of several can have a figure together.
    const figure = groups?.several[row] ? figures!.values[row]! : 0
    if (figure > 0) {
      const group = groups!.ofRow[row]!
      const seen = together.get(group)
      const same = seen?.find(each => each.figure === figure)
      if (same) {
        same.sum += value
        same.rows++
        repeats++
      } else if (seen) seen.push({ figure, sum: value, rows: 1 })
      else together.set(group, [{ figure, sum: value, rows: 1 }])
      continue
    }
    known[count++] = value
    sum += value
  }
  for (const seen of together.values())
    for (const each of seen) {
      known[count++] = each.sum / each.rows
      sum += each.sum / each.rows
    }
  if (!count)
    return { known: 0, unknown: rows.length, repeats: 0, sum: 0, mean: null, median: null, min: null, max: null }
  const values = known.subarray(0, count)
  let min = Number.POSITIVE_INFINITY
  let max = Number.NEGATIVE_INFINITY
  for (const value of values) {
    if (value < min) min = value
    if (value > max) max = value
  }
  const middle = count >> 1
  // Afterwards what is less stands before the middle.
  const upper = nthSmallest(values, middle)
  return {
    known: count,
    unknown: rows.length - count - repeats,
    repeats,
    sum,
    mean: sum / count,
    median: count % 2 ? upper : (largest(values.subarray(0, middle)) + upper) / 2,
    min,
    max,
  }
}

const largest = (values: Float64Array): number => {
  let most = Number.NEGATIVE_INFINITY
  for (let at = 0; at < values.length; at++) if (values[at]! > most) most = values[at]!
  return most
}

/** The value that would stand at `n` (from 0) if the list were sorted; the list is rearranged. Quickselect (Hoare 1961), O(length) on average. */
export function nthSmallest(values: Float64Array, n: number): number {
  let low = 0
  let high = values.length - 1
  while (low < high) {
    // Median of three, so that sorted and even lists stay quick.
    const [a, b, c] = [values[low]!, values[(low + high) >> 1]!, values[high]!]
    const pivot = a < b ? (b < c ? b : Math.max(a, c)) : a < c ? a : Math.max(b, c)
    let i = low
    let j = high
    while (i <= j) {
      while (values[i]! < pivot) i++
      while (values[j]! > pivot) j--
      if (i <= j) {
        const swap = values[i]!
        values[i++] = values[j]!
        values[j--] = swap
      }
    }
    if (n <= j) high = j
    else if (n >= i) low = i
    else return values[n]!
  }
  return values[n]!
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
