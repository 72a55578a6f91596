import type { Batch, Condition } from '@dew-trail/core/tables/column-spec'
import { ColumnStore } from '@dew-trail/core/tables/column-store'
import { arrivalOrder, maskRows, rowsIn, sumMask } from '@dew-trail/core/tables/filter-rows'
import { type Folded, foldRows } from '@dew-trail/core/tables/fold-rows'
import { pickFirstRows, pickRows, sortedRows } from '@dew-trail/core/tables/sort-rows'
import { sortText } from '@dew-trail/core/tables/condition-text'
import type { OnceBy } from '@dew-trail/core/tables/once-by'
import { type ColumnSum, countCodes, sumRows } from '@dew-trail/core/tables/sum-rows'
import { exportTable } from './export-table.ts'
import type { Row, SourceQuery } from './row-source.ts'
import { readLines } from './read-lines.ts'
import type { FromWorker, Question, ToWorker } from './worker-messages.ts'

/** The answer to the question: which rows meet it, in which order; all of them in that order, and folded, once somebody needs that. */
type Answer = {
  key: string
  order: Uint32Array
  mask: Uint8Array
  /** Rows that are shown when groups are folded. */
  count: number
  picked: Uint32Array | null
  folded: Folded | null
}
const nothing: Answer = {
  key: '',
  order: new Uint32Array(0),
  mask: new Uint8Array(0),
  count: 0,
  picked: null,
  folded: null,
}

/** Up to this place rows are looked for anew with every question: a key is answered before all of them are put in order. */
const firstPlaces = 2_000
const countedAtATime = 60_000
const isText = ({ op }: Condition): boolean => op === 'has' || op === 'without'

/** Holds a table's rows column by column, loads them itself, filters, sorts and sums them, and gives only what is seen. Lives in a worker. */
export class HeldRows {
  readonly #post: (message: FromWorker) => void
  #store = new ColumnStore([])
  #query: SourceQuery = { where: [], sort: [] }
  #sequence = 0
  #range = { from: 0, to: 60 }
  /** Orders of all rows by sort, good for one version of the store. */
  #orders = { version: -1, bySort: new Map<string, Uint32Array>() }
  #shown = nothing
  /** Conditions that every question has, and the groups whose equal figures are summed once. */
  #always: Condition[] = []
  #onceBy: OnceBy | null = null
  #restMask: { key: string; mask: Uint8Array } = { key: '', mask: new Uint8Array(0) }
  #total = { version: -1, count: 0 }
  #loading: Promise<void> = Promise.resolve()

  constructor(post: (message: FromWorker) => void) {
    this.#post = post
  }

  receive(message: ToWorker): void {
    switch (message.type) {
      case 'open':
        this.#store = new ColumnStore(message.specs)
        this.#always = message.always
        this.#onceBy = message.onceBy
        break
      case 'load':
        this.#loading = this.#loading
          .then(() => this.#load(message.url))
          .catch(error =>
            this.#post({
              type: 'loaded',
              revision: null,
              error: error instanceof TypeError ? 'The server cannot be reached' : (error as Error).message,
            }),
          )
        break
      case 'put':
        if (message.clear) this.#clear()
        this.#store.upsert(message.batch)
        this.#sendWindow()
        break
      case 'query':
        this.#query = message.query
        this.#sequence = message.sequence
        this.#range = { from: message.from, to: message.to }
        this.#sendWindow()
        break
      case 'window':
        this.#range = { from: message.from, to: message.to }
        this.#sendWindow()
        break
      case 'ask':
        Promise.resolve()
          .then(() => this.#answer(message.what))
          .then(
            answer => this.#post({ type: 'reply', number: message.number, answer, error: null }),
            error =>
              this.#post({ type: 'reply', number: message.number, answer: null, error: (error as Error).message }),
          )
    }
  }

  #clear(): void {
    const { specs, version } = this.#store
    this.#store = new ColumnStore(specs)
    // New rows are another list, though it has had as many changes as the old one: sums beside it are asked for again by this.
    this.#store.version = version + 1
    this.#shown = nothing
    this.#orders = { version: -1, bySort: new Map() }
    this.#total = { version: -1, count: 0 }
    this.#restMask = { key: '', mask: new Uint8Array(0) }
  }

  #current(): Answer {
    const store = this.#store
    const query = this.#query
    const key = `${store.version}|${JSON.stringify(query)}`
    if (this.#shown.key === key) return this.#shown
    if (this.#orders.version !== store.version) this.#orders = { version: store.version, bySort: new Map() }
    const sortKey = sortText(query.sort)
    let order = this.#orders.bySort.get(sortKey)
    if (!order) {
      order = sortedRows(store, query.sort)
      this.#orders.bySort.set(sortKey, order)
    }
    const mask = this.#shownMask()
    const shown: Answer = { key, order, mask, count: 0, picked: null, folded: null }
    const { fold } = query
    if (fold) shown.folded = foldRows(store, pickedRows(shown), fold.by, fold.face, new Set(fold.open))
    shown.count = shown.folded ? shown.folded.rows.length : sumMask(mask)
    this.#shown = shown
    return shown
  }

  /** The rows that meet the conditions. While somebody types only the text changes, so the mask of all other conditions is kept. */
  #shownMask(): Uint8Array {
    const { where } = this.#query
    const rest = [...this.#always, ...where.filter(condition => !isText(condition))]
    const key = `${this.#store.version}|${JSON.stringify(rest)}`
    if (this.#restMask.key !== key) this.#restMask = { key, mask: maskRows(this.#store, rest) }
    return maskRows(this.#store, where.filter(isText), this.#restMask.mask)
  }

  #totalRows(): number {
    const { version, count } = this.#store
    if (!this.#always.length) return count
    if (this.#total.version !== version) this.#total = { version, count: sumMask(maskRows(this.#store, this.#always)) }
    return this.#total.count
  }

  #sendWindow(): void {
    const answer = this.#current()
    const { key, count, folded } = answer
    const from = Math.max(0, Math.min(this.#range.from, count))
    const to = Math.min(count, this.#range.to)
    const indexes = shownRows(answer, to)
    const rows: Row[] = []
    for (let i = from; i < to; i++) {
      const row: Row = this.#store.row(indexes[i]!)
      if (folded) Object.assign(row, { familySize: folded.sizeOf(indexes[i]!), inFamily: folded.isInside(indexes[i]!) })
      rows.push(row)
    }
    const sequence = this.#sequence
    this.#post({ type: 'window', sequence, listVersion: key, count, total: this.#totalRows(), from, rows })
  }

  async #load(url: string): Promise<void> {
    const response = await fetch(url)
    if (!response.ok || !response.body) {
      const message = await response.json().then(
        body => (body as { error?: { message?: string } }).error?.message,
        () => undefined,
      )
      throw new Error(message ?? `The server answered with status ${response.status}`)
    }
    let shownOnce = this.#store.count > 0
    let revision: number | null = null
    for await (const lines of readLines(response.body))
      for (const line of lines) {
        const data = JSON.parse(line) as Batch | { revision: number }
        if ('revision' in data) revision = data.revision
        else {
          this.#store.upsert(data)
          // The first rows of a long table are shown before the rest is here.
          if (!shownOnce) {
            shownOnce = true
            this.#sendWindow()
          }
        }
      }
    if (revision === null) throw new Error('The rows ended early')
    this.#sendWindow()
    this.#post({ type: 'loaded', revision, error: null })
  }

  /**
   * A pause in which a new question is heard: at 500,000 rows a column's sums take tens of milliseconds, and a key typed meanwhile
   * must not wait for all of them. Rejects when such a question, or rows, came.
   */
  async #giveWay(question: number, version: number): Promise<void> {
    await new Promise(resolve => setTimeout(resolve, 0))
    if (this.#sequence !== question || this.#store.version !== version) throw new Error('A newer question came')
  }

  async #sums(columns: string[], rows: Uint32Array): Promise<{ rows: number; sums: Record<string, ColumnSum> }> {
    const [question, version] = [this.#sequence, this.#store.version]
    const sums: Record<string, ColumnSum> = {}
    for (const column of columns) {
      sums[column] = sumRows(this.#store, rows, column, this.#onceBy ?? undefined)
      await this.#giveWay(question, version)
    }
    return { rows: rows.length, sums }
  }

  async #words(most: number): Promise<Array<{ word: string; rows: number }>> {
    const text = [...this.#store.columns.values()].find(column => column.kind === 'text')
    if (text?.kind !== 'text') return []
    const [question, version] = [this.#sequence, this.#store.version]
    const rows = arrivalOrder(this.#store, pickedRows(this.#current()))
    let counts: Uint32Array | undefined
    for (let at = 0; at < rows.length; at += countedAtATime) {
      counts = text.index.addCounts(rows.subarray(at, at + countedAtATime), counts)
      await this.#giveWay(question, version)
    }
    return counts ? text.index.mostFrequent(counts, most) : []
  }

  #rowsOf(ids: number[]): Uint32Array {
    return Uint32Array.from(ids.map(id => this.#store.rowOf(id)).filter(row => row !== undefined))
  }

  #answer(what: Question): unknown {
    const store = this.#store
    switch (what.kind) {
      case 'sums':
        return this.#sums(
          what.columns,
          arrivalOrder(store, what.ids ? this.#rowsOf(what.ids) : pickedRows(this.#current())),
        )
      case 'words':
        return this.#words(what.most)
      case 'codes': {
        const conditions = [...this.#always, ...this.#query.where]
        const mask = maskRows(
          store,
          conditions.filter(condition => !what.leaveOut.includes(condition.column)),
        )
        return countCodes(store, rowsIn(mask), what.column)
      }
      case 'indexes': {
        const wanted = new Map(what.ids.map(id => [store.rowOf(id), id]))
        const indexes: Array<{ id: number; index: number }> = []
        const rows = shownRows(this.#current())
        for (let index = 0; index < rows.length && indexes.length < wanted.size; index++) {
          const id = wanted.get(rows[index]!)
          if (id !== undefined) indexes.push({ id, index })
        }
        return indexes
      }
      case 'ids':
        return Array.from(shownRows(this.#current()), row => store.ids[row]!)
      case 'rows':
        return Array.from(what.ids ? this.#rowsOf(what.ids) : pickedRows(this.#current()), row => store.row(row))
      case 'export': {
        const rows = what.ids ? this.#rowsOf(what.ids) : shownRows(this.#current())
        return exportTable(what.format, {
          title: what.title,
          columns: what.columns,
          rows: Array.from(rows, row => what.columns.map(column => store.cell(row, column.key))),
        })
      }
    }
  }
}

/** All rows that meet the conditions, in order. */
const pickedRows = (answer: Answer): Uint32Array => (answer.picked ??= pickRows(answer.order, answer.mask))
/** Those of them that are shown, at least up to a place. */
function shownRows(answer: Answer, upTo = Number.POSITIVE_INFINITY): Uint32Array {
  if (answer.folded) return answer.folded.rows
  return !answer.picked && upTo <= firstPlaces ? pickFirstRows(answer.order, answer.mask, upTo) : pickedRows(answer)
}
