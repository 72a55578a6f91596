import type { Sort } from './column-spec.ts'
import type { ColumnStore } from './column-store.ts'
import { radixOrder } from './radix-order.ts'

/**
 * All rows in order of several columns; unknown comes last whichever way a column runs; ties keep the order of arrival.
 * O(rows), for text O(rows log rows); callers keep the result for as long as the store's version and the sort stay the same.
 */
export function sortedRows(store: ColumnStore, sort: readonly Sort[]): Uint32Array {
  const order = new Uint32Array(store.count)
  for (let row = 0; row < order.length; row++) order[row] = row
  if (!sort.length) return order
  const keys = sort.map(({ column, down }) => sortKeys(store, column, down))
  // From the last column to the first: each pass keeps the order of the one before where it finds no difference.
  return keys.reduceRight<Uint32Array>((rows, key) => radixOrder(rows, key), order)
}

const last = Number.MAX_VALUE

/** A number a row that sorts upwards as the column is to be sorted; no -0, whose bits sort before those of 0. */
function sortKeys(store: ColumnStore, key: string, down: boolean): Float64Array {
  const column = store.columns.get(key)
  if (!column) throw new TypeError(`there is no column "${key}"`)
  const keys = new Float64Array(store.count)
  const sign = down ? -1 : 1
  if (column.kind === 'number')
    for (let row = 0; row < keys.length; row++) {
      const value = column.values[row]!
      keys[row] = Number.isNaN(value) ? last : sign * value || 0
    }
  else if (column.kind === 'flag')
    for (let row = 0; row < keys.length; row++) keys[row] = sign * column.values[row]! || 0
  else if (column.kind === 'series') {
    for (let row = 0; row < keys.length; row++) {
      const value = column.values[row * column.length + column.length - 1]!
      keys[row] = Number.isNaN(value) ? last : sign * value || 0
    }
  } else if (column.kind === 'code') {
    const positions = [...column.names.keys()].sort((a, b) => (column.names[a]! < column.names[b]! ? -1 : 1))
    const rank = new Float64Array(positions.length)
    positions.forEach((code, position) => {
      rank[code] = code === 0 ? last : sign * position || 0
    })
    for (let row = 0; row < keys.length; row++) keys[row] = rank[column.values[row]!]!
  } else {
    const { values } = column
    const order = new Uint32Array(keys.length)
      .map((_, row) => row)
      .sort((a, b) => (values[a]! < values[b]! ? -1 : values[a]! > values[b]! ? 1 : a - b))
    let rank = 0
    order.forEach((row, at) => {
      if (at && values[row] !== values[order[at - 1]!]) rank = at
      keys[row] = sign * rank || 0
    })
  }
  return keys
}

/** The rows of `order` that the mask (0 or 1 a row) keeps, in that order. O(rows). */
export function pickRows(order: Uint32Array, mask: Uint8Array): Uint32Array {
  // Every row is written and most are written over: a branch that nobody can foresee costs more.
  const picked = new Uint32Array(order.length + 1)
  let at = 0
  for (let i = 0; i < order.length; i++) {
    const row = order[i]!
    picked[at] = row
    at += mask[row]!
  }
  return picked.subarray(0, at)
}

/** The first `most` of them, which a screenful takes: found in a fraction of the time of all. O(rows up to the last of them). */
export function pickFirstRows(order: Uint32Array, mask: Uint8Array, most: number): Uint32Array {
  const picked = new Uint32Array(Math.min(most, order.length))
  let at = 0
  for (let i = 0; i < order.length && at < picked.length; i++) {
    const row = order[i]!
    if (mask[row]) picked[at++] = row
  }
  return picked.subarray(0, at)
}
