import type { Condition } from './column-spec.ts'
import type { Column, ColumnStore } from './column-store.ts'
import { rowTest, textTest } from './row-tests.ts'
import { readText, type TextPart, wholeWords } from './text-parts.ts'

/** Rows (numbers, in order of arrival) that meet every condition. Unknown figures meet no range, only "unknown". O(rows × conditions) at worst. */
export const filterRows = (store: ColumnStore, where: readonly Condition[]): Uint32Array =>
  rowsIn(maskRows(store, where))

/** The rows that a mask keeps, in order of arrival. */
export function rowsIn(mask: Uint8Array): Uint32Array {
  const rows = new Uint32Array(mask.length + 1)
  let at = 0
  for (let row = 0; row < mask.length; row++) {
    rows[at] = row
    at += mask[row]!
  }
  return rows.subarray(0, at)
}

/**
 * Rows in any order put in order of arrival, in which memory lies: what visits hundreds of thousands of rows takes a quarter of the time so.
 * A few rows stay as they are. O(rows of the store).
 */
export function arrivalOrder(store: ColumnStore, rows: Uint32Array): Uint32Array {
  if (rows.length * 16 < store.count) return rows
  const mask = new Uint8Array(store.count)
  for (let at = 0; at < rows.length; at++) mask[rows[at]!] = 1
  return rowsIn(mask)
}

/** The same as a mask of 0 and 1 a row; with `within` only of the rows that this mask keeps, which is not changed. */
export function maskRows(store: ColumnStore, where: readonly Condition[], within?: Uint8Array): Uint8Array {
  let mask = within ?? new Uint8Array(store.count).fill(1)
  for (const condition of where) {
    const column = store.columns.get(condition.column)
    if (!column) throw new TypeError(`there is no column "${condition.column}"`)
    if (condition.op === 'has' || condition.op === 'without') {
      const { value, op } = condition
      if (column.kind === 'text') mask = textMask(column, value, mask, op === 'without')
      else if (column.kind === 'code') mask = codeTextMask(column, textTest(value, op === 'without'), mask)
      else throw new TypeError(`"${condition.column}" has no text to search`)
    } else {
      if (mask === within) mask = within.slice()
      applyCondition(column, condition, mask)
    }
  }
  return mask === within ? within.slice() : mask
}

/** The rows of a mask whose code has a name that passes a test; unknown is a name without letters. */
function codeTextMask(
  { names, values }: Extract<Column, { kind: 'code' }>,
  test: (name: string) => boolean,
  within: Uint8Array,
): Uint8Array {
  const wanted = Uint8Array.from(names, name => Number(test(name)))
  return within.map((kept, row) => kept & wanted[values[row]!]!)
}

/** Takes the rows that do not meet a condition (of any kind but those of texts) out of a mask. */
function applyCondition(column: Column, condition: Condition, mask: Uint8Array): void {
  const count = mask.length
  switch (condition.op) {
    case 'from':
    case 'to': {
      if (column.kind === 'code') {
        const wanted = Uint8Array.from(column.names, name => Number(rowTest(condition, () => name)(0)))
        for (let row = 0; row < count; row++) mask[row]! &= wanted[column.values[row]!]!
        return
      }
      if (column.kind !== 'number') throw new TypeError(`"${condition.column}" has no numbers to compare`)
      const { values } = column
      const limit = condition.value
      // NaN fails both comparisons, which is what unknown should do.
      if (condition.op === 'from') for (let row = 0; row < count; row++) mask[row]! &= values[row]! >= limit ? 1 : 0
      else for (let row = 0; row < count; row++) mask[row]! &= values[row]! <= limit ? 1 : 0
      return
    }
    case 'any':
    case 'is':
    case 'not': {
      if (column.kind !== 'code') throw new TypeError(`"${condition.column}" has no set of values`)
      const wanted = new Uint8Array(column.names.length)
      if (condition.op === 'any')
        column.names.forEach((name, code) => {
          wanted[code] = name.split('|').some(member => condition.value.includes(member)) ? 1 : 0
        })
      else
        for (const name of condition.value) {
          const code = column.ids.get(name)
          if (code !== undefined) wanted[code] = 1
        }
      const keep = condition.op === 'not' ? 0 : 1
      for (let row = 0; row < count; row++) mask[row]! &= wanted[column.values[row]!] === keep ? 1 : 0
      return
    }
    case 'known':
    case 'unknown': {
      const keep = condition.op === 'known'
      for (let row = 0; row < count; row++) mask[row]! &= isKnown(column, row) === keep ? 1 : 0
      return
    }
    case 'within':
      throw new TypeError(`the limit "${condition.value}" was not put in numbers`)
    case 'yes':
    case 'no': {
      if (column.kind !== 'flag') throw new TypeError(`"${condition.column}" is not a yes or no`)
      const keep = condition.op === 'yes' ? 1 : 0
      for (let row = 0; row < count; row++) mask[row]! &= column.values[row] === keep ? 1 : 0
    }
  }
}

function isKnown(column: Column, row: number): boolean {
  if (column.kind === 'number') return !Number.isNaN(column.values[row]!)
  if (column.kind === 'code') return column.values[row] !== 0
  if (column.kind === 'series') return !Number.isNaN(column.values[row * column.length]!)
  return true
}

/**
 * Rows of `within` whose text contains what was typed (`readText`), as a mask of its own unless nothing was. Left out, several words mean: without any
 * of them.
 */
function textMask(
  column: Extract<Column, { kind: 'text' }>,
  typed: string,
  within: Uint8Array,
  leaveOut: boolean,
): Uint8Array {
  const alternatives = readText(typed)
  if (!alternatives.length) return within
  const marksOf = (alternative: TextPart[]) => alternative.map(part => partMarker(column, part))
  if (leaveOut) {
    const left = within.slice()
    for (const mark of alternatives.flatMap(marksOf)) {
      const found = mark(left)
      for (let row = 0; row < left.length; row++) left[row]! ^= found[row]!
    }
    return left
  }
  const found = alternatives.map(alternative => marksOf(alternative).reduce((kept, mark) => mark(kept), within))
  const [first, ...others] = found as [Uint8Array, ...Uint8Array[]]
  for (const other of others) for (let row = 0; row < first.length; row++) first[row]! |= other[row]!
  return first
}

type Marker = (within: Uint8Array) => Uint8Array

/** What marks the rows of a mask that have a part. The dictionary tells of single words, the text itself of the rest. */
function partMarker({ index, values }: Extract<Column, { kind: 'text' }>, { kind, text }: TextPart): Marker {
  if (kind === 'part') return inside => (isWord(text) ? index.markPart(text, inside) : partMask(values, text, inside))
  if (kind === 'phrase' && isWord(text)) return inside => index.markWord(text, inside)
  const pattern = wholeWords(text)
  return inside => {
    const mask = new Uint8Array(inside.length)
    for (let row = 0; row < mask.length; row++)
      if (inside[row] && pattern.test(values[row]!.toLowerCase())) mask[row] = 1
    return mask
  }
}
/** Whether a part of a text is inside one word, so that the dictionary tells all that have it. */
const isWord = (part: string): boolean => /^[\p{L}\p{N}]+$/u.test(part)

/** The rows of a mask whose text contains `part` as it stands, in small letters or capitals. */
function partMask(values: readonly string[], part: string, within: Uint8Array): Uint8Array {
  const mask = new Uint8Array(within.length)
  for (let row = 0; row < mask.length; row++)
    if (within[row] && values[row]!.toLowerCase().includes(part)) mask[row] = 1
  return mask
}

/** How many rows a mask keeps. */
export function sumMask(mask: Uint8Array): number {
  let sum = 0
  for (let row = 0; row < mask.length; row++) sum += mask[row]!
  return sum
}
