import type { Batch, CellValue, ColumnSpec } from './column-spec.ts'
import { TokenIndex } from './token-index.ts'

export type NumberColumn = { kind: 'number'; values: Float64Array }
export type SeriesColumn = { kind: 'series'; length: number; values: Float32Array }
export type CodeColumn = { kind: 'code'; values: Uint16Array; names: string[]; ids: Map<string, number> }
export type FlagColumn = { kind: 'flag'; values: Uint8Array }
export type TextColumn = { kind: 'text'; values: string[]; index: TokenIndex }
export type Column = NumberColumn | SeriesColumn | CodeColumn | FlagColumn | TextColumn

/**
 * Rows held column by column in typed arrays, found by id. Rows are only added and changed, never moved, so a row number stays
 * good for the life of the store. `version` goes up with every change; whatever is cached is keyed by it.
 */
export class ColumnStore {
  readonly columns = new Map<string, Column>()
  readonly specs: readonly ColumnSpec[]
  readonly #rowOfId = new Map<number, number>()
  ids = new Float64Array(1024)
  count = 0
  version = 0

  constructor(specs: readonly ColumnSpec[]) {
    this.specs = specs
    for (const spec of specs) this.columns.set(spec.key, emptyColumn(spec))
  }

  rowOf(id: number): number | undefined {
    return this.#rowOfId.get(id)
  }

  /** Adds or changes rows. Throws TypeError when a column is not in the specs or lists differ in length. */
  upsert(batch: Batch): void {
    const { ids } = batch
    const rows = new Uint32Array(ids.length)
    const isNew = new Uint8Array(ids.length)
    ids.forEach((id, i) => {
      let row = this.#rowOfId.get(id)
      if (row === undefined) {
        row = this.count++
        if (row >= this.ids.length) this.#grow()
        this.#rowOfId.set(id, row)
        this.ids[row] = id
        isNew[i] = 1
      }
      rows[i] = row
    })
    for (const [key, values] of Object.entries(batch.columns)) {
      const column = this.columns.get(key)
      if (!column) throw new TypeError(`there is no column "${key}"`)
      if (values.length !== ids.length)
        throw new TypeError(`column "${key}" has ${values.length} values for ${ids.length} rows`)
      fillColumn(column, rows, isNew, values)
    }
    for (const [key, value] of Object.entries(batch.same ?? {})) {
      const column = this.columns.get(key)
      if (!column) throw new TypeError(`there is no column "${key}"`)
      if (Array.isArray(value)) throw new TypeError(`"${key}" cannot have one list for all rows`)
      fillColumn(column, rows, isNew, value as null)
    }
    this.version++
  }

  cell(row: number, key: string): CellValue {
    const column = this.columns.get(key)
    if (!column) throw new TypeError(`there is no column "${key}"`)
    switch (column.kind) {
      case 'number': {
        const value = column.values[row]!
        return Number.isNaN(value) ? null : value
      }
      case 'text':
        return column.values[row] ?? null
      case 'code': {
        const code = column.values[row]!
        return code ? column.names[code]! : null
      }
      case 'flag':
        return column.values[row] === 1
      case 'series':
        return Array.from(column.values.subarray(row * column.length, (row + 1) * column.length), value =>
          Number.isNaN(value) ? null : value,
        )
    }
  }

  /** A row as an object, with its id. */
  row(row: number): Record<string, CellValue> & { id: number } {
    const out: Record<string, CellValue> & { id: number } = { id: this.ids[row]! }
    for (const key of this.columns.keys()) out[key] = this.cell(row, key)
    return out
  }

  #grow(): void {
    const size = this.ids.length * 2
    this.ids = enlarge(this.ids, new Float64Array(size))
    for (const column of this.columns.values()) {
      if (column.kind === 'number') column.values = enlarge(column.values, new Float64Array(size).fill(Number.NaN))
      else if (column.kind === 'series')
        column.values = enlarge(column.values, new Float32Array(size * column.length).fill(Number.NaN))
      else if (column.kind === 'code') column.values = enlarge(column.values, new Uint16Array(size))
      else if (column.kind === 'flag') column.values = enlarge(column.values, new Uint8Array(size))
    }
  }
}

function enlarge<T extends Float64Array | Float32Array | Uint16Array | Uint8Array>(from: T, to: T): T {
  to.set(from)
  return to
}

function emptyColumn(spec: ColumnSpec): Column {
  switch (spec.kind) {
    case 'number':
      return { kind: 'number', values: new Float64Array(1024).fill(Number.NaN) }
    case 'series':
      return { kind: 'series', length: spec.length, values: new Float32Array(1024 * spec.length).fill(Number.NaN) }
    case 'code':
      return { kind: 'code', values: new Uint16Array(1024), names: [''], ids: new Map([['', 0]]) }
    case 'flag':
      return { kind: 'flag', values: new Uint8Array(1024) }
    case 'text':
      return { kind: 'text', values: [], index: new TokenIndex() }
  }
}

/** Puts values in rows: a list with one a row, or one value for all of them. */
function fillColumn(
  column: Column,
  rows: Uint32Array,
  isNew: Uint8Array,
  values: readonly CellValue[] | Exclude<CellValue, readonly (number | null)[]>,
): void {
  const list = Array.isArray(values) ? (values as readonly CellValue[]) : null
  for (let i = 0; i < rows.length; i++) {
    const row = rows[i]!
    const value = list ? list[i] : (values as CellValue)
    if (column.kind === 'number') column.values[row] = typeof value === 'number' ? value : Number.NaN
    else if (column.kind === 'flag') column.values[row] = value === true ? 1 : 0
    else if (column.kind === 'text') {
      if (!isNew[i] && column.values[row] === value) continue
      if (!isNew[i] && column.values[row] !== undefined)
        throw new TypeError('the text of a row does not change; give it a new id')
      column.values[row] = String(value ?? '')
      column.index.set(row, column.values[row]!)
    } else if (column.kind === 'code') {
      const name = String(value ?? '')
      let code = column.ids.get(name)
      if (code === undefined) {
        code = column.names.length
        if (code > 65_535) throw new RangeError('a code column takes at most 65,535 different values')
        column.names.push(name)
        column.ids.set(name, code)
      }
      column.values[row] = code
    } else {
      const numbers = Array.isArray(value) ? (value as ReadonlyArray<number | null>) : []
      for (let at = 0; at < column.length; at++) column.values[row * column.length + at] = numbers[at] ?? Number.NaN
    }
  }
}
