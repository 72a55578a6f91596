import type { Batch, CellValue, ColumnSpec } from './column-spec.ts'
import { NumberIds } from './number-ids.ts'
import { TokenIndex } from './token-index.ts'

export type NumberColumn = { kind: 'number'; values: Float64Array }
export type SeriesColumn = { kind: 'series'; length: number; values: Float32Array }
export type CodeColumn = { kind: 'code'; values: Uint16Array; names: string[]; ids: Map<string, number> }
export type FlagColumn = { kind: 'flag'; values: Uint8Array }
export type TextColumn = { kind: 'text'; values: string[]; index: TokenIndex }
export type Column = NumberColumn | SeriesColumn | CodeColumn | FlagColumn | TextColumn

/**
 * Rows held column by column in typed arrays, found by id. Rows are only added and changed, never moved, so a row number stays
 * good for the life of the store. `version` goes up with every change; whatever is cached is keyed by it. Columns in which nothing is
 * known yet share one blank array a kind: of a fresh import that is most of them.
 */
export class ColumnStore {
  readonly columns = new Map<string, Column>()
  readonly specs: readonly ColumnSpec[]
  readonly #rowOfId = new NumberIds()
  readonly #shared = new Set<string>()
  #blanks: Blanks
  ids = new Float64Array(firstRows)
  version = 0

  constructor(specs: readonly ColumnSpec[]) {
    this.specs = specs
    this.#blanks = makeBlanks(specs, firstRows)
    for (const spec of specs) {
      this.columns.set(spec.key, emptyColumn(spec, this.#blanks))
      if (spec.kind !== 'text') this.#shared.add(spec.key)
    }
  }

  get count(): number {
    return this.#rowOfId.count
  }

  rowOf(id: number): number | undefined {
    const row = this.#rowOfId.find(id)
    return row < 0 ? undefined : row
  }

  /** Adds or changes rows. Throws TypeError when a column is not in the specs or lists differ in length. */
  upsert(batch: Batch): void {
    const { ids } = batch
    const before = this.count
    const rows = new Uint32Array(ids.length)
    for (let i = 0; i < ids.length; i++) {
      const row = this.#rowOfId.add(ids[i]!)
      if (row >= this.ids.length) this.#grow()
      this.ids[row] = ids[i]!
      rows[i] = row
    }
    /** Whether all rows are new and stand one after another. */
    const fresh = this.count - before === ids.length
    const columnOf = (key: string): Column => {
      const column = this.columns.get(key)
      if (!column) throw new TypeError(`there is no column "${key}"`)
      return column
    }
    for (const [key, values] of Object.entries(batch.columns)) {
      const column = columnOf(key)
      if (values.length !== ids.length)
        throw new TypeError(`column "${key}" has ${values.length} values for ${ids.length} rows`)
      this.#own(key, column)
      fillColumn(column, rows, before, values)
    }
    for (const [key, value] of Object.entries(batch.same ?? {})) {
      const column = columnOf(key)
      if (Array.isArray(value)) throw new TypeError(`"${key}" cannot have one list for all rows`)
      // New rows are blank already.
      const blank = (value === null || value === '' || value === false) && column.kind !== 'text'
      if (blank && (fresh || this.#shared.has(key))) continue
      this.#own(key, column)
      fillColumn(column, rows, before, new Array<CellValue>(ids.length).fill(value))
    }
    this.version++
  }

  /** Gives a column that shares the blank array one of its own, before something is written. */
  #own(key: string, column: Column): void {
    if (!this.#shared.delete(key) || column.kind === 'text') return
    column.values = column.values.slice()
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
    this.#blanks = makeBlanks(this.specs, size)
    for (const [key, column] of this.columns) {
      if (column.kind === 'text') continue
      if (this.#shared.has(key)) column.values = blankOf(column, this.#blanks)
      else if (column.kind === 'number') column.values = enlarge(column.values, new Float64Array(size).fill(Number.NaN))
      else if (column.kind === 'series')
        column.values = enlarge(column.values, new Float32Array(size * column.length).fill(Number.NaN))
      else if (column.kind === 'code') column.values = enlarge(column.values, new Uint16Array(size))
      else column.values = enlarge(column.values, new Uint8Array(size))
    }
  }
}

const firstRows = 1_024

/** Arrays in which nothing is known, shared by all columns of a kind; the series' is as long as the longest needs. */
type Blanks = { number: Float64Array; code: Uint16Array; flag: Uint8Array; series: Float32Array }
function makeBlanks(specs: readonly ColumnSpec[], size: number): Blanks {
  const longest = specs.reduce((most, spec) => (spec.kind === 'series' ? Math.max(most, spec.length) : most), 0)
  return {
    number: new Float64Array(size).fill(Number.NaN),
    code: new Uint16Array(size),
    flag: new Uint8Array(size),
    series: new Float32Array(size * longest).fill(Number.NaN),
  }
}
function blankOf(column: Exclude<Column, TextColumn>, blanks: Blanks): never {
  const values =
    column.kind === 'series' ? blanks.series.subarray(0, blanks.code.length * column.length) : blanks[column.kind]
  return values as never
}

function enlarge<T extends Float64Array | Float32Array | Uint16Array | Uint8Array>(from: T, to: T): T {
  to.set(from)
  return to
}

function emptyColumn(spec: ColumnSpec, blanks: Blanks): Column {
  switch (spec.kind) {
    case 'number':
      return { kind: 'number', values: blanks.number }
    case 'series':
      return { kind: 'series', length: spec.length, values: blanks.series.subarray(0, firstRows * spec.length) }
    case 'code':
      return { kind: 'code', values: blanks.code, names: [''], ids: new Map([['', 0]]) }
    case 'flag':
      return { kind: 'flag', values: blanks.flag }
    case 'text':
      return { kind: 'text', values: [], index: new TokenIndex() }
  }
}

/** Puts one value a row in rows; rows from `before` on are new. */
function fillColumn(column: Column, rows: Uint32Array, before: number, list: readonly CellValue[]): void {
  const count = rows.length
  switch (column.kind) {
    case 'number': {
      const { values } = column
      for (let i = 0; i < count; i++) {
        const value = list[i]
        values[rows[i]!] = typeof value === 'number' ? value : Number.NaN
      }
      return
    }
    case 'flag': {
      const { values } = column
      for (let i = 0; i < count; i++) values[rows[i]!] = list[i] === true ? 1 : 0
      return
    }
    case 'text': {
      const { values } = column
      for (let i = 0; i < count; i++) {
        const row = rows[i]!
        const value = list[i]
        // A row may stand twice in one batch, so whether it has a text is asked of the column too.
        if (row < before || values[row] !== undefined) {
          if (values[row] !== value) throw new TypeError('the text of a row does not change; give it a new id')
          continue
        }
        values[row] = String(value ?? '')
        column.index.set(row, values[row])
      }
      return
    }
    case 'code': {
      const { values } = column
      let lastName: CellValue | undefined
      let lastCode = 0
      for (let i = 0; i < count; i++) {
        const value = list[i]
        if (value !== lastName || i === 0) {
          lastName = value
          lastCode = codeOf(column, String(value ?? ''))
        }
        values[rows[i]!] = lastCode
      }
      return
    }
    case 'series': {
      const { values, length } = column
      for (let i = 0; i < count; i++) {
        const value = list[i]
        const numbers = Array.isArray(value) ? (value as ReadonlyArray<number | null>) : null
        const start = rows[i]! * length
        if (!numbers) values.fill(Number.NaN, start, start + length)
        else for (let at = 0; at < length; at++) values[start + at] = numbers[at] ?? Number.NaN
      }
    }
  }
}

function codeOf(column: CodeColumn, name: string): number {
  const known = column.ids.get(name)
  if (known !== undefined) return known
  const code = column.names.length
  if (code > 65_535) throw new RangeError('a code column takes at most 65,535 different values')
  column.names.push(name)
  column.ids.set(name, code)
  return code
}
