import type { Batch, ColumnSpec, Condition } from '@dew-trail/core/tables/column-spec'
import type { OnceBy } from '@dew-trail/core/tables/once-by'
import type { Row, SourceQuery, WholeSource } from './row-source.ts'
import type { FromWorker, Question, ToWorker } from './worker-messages.ts'

const firstWindow = 60
/** Rows before and after those in sight that come with the answer to a new question: few, so that the answer is quick. */
const besideAnswer = 12
/** Milliseconds after an answer in which nobody asked anything: then the rows around are fetched too. */
const untilWider = 120
/** Rows asked for before and after those in sight, so that fast scrolling finds them there. */
const aroundRows = 240
/** Rows are asked for again when fewer than these are left in the direction of scrolling, so that they come before they are in sight. */
const leastAhead = 120
/** Rows kept on either side of the wanted ones. */
const mostBeside = 300

/** A row source whose rows live in a worker. Windows that answer an older question than the last are dropped. */
export class WorkerSource implements WholeSource {
  count = 0
  total = 0
  version = 0
  state: 'loading' | 'ready' | 'failed' = 'loading'
  error: string | null = null
  revision = 0
  listVersion = ''
  readonly #worker = new Worker(new URL('./sheet.worker.ts', import.meta.url), { type: 'module' })
  readonly #listeners = new Set<() => void>()
  readonly #waiting = new Map<number, { resolve(value: unknown): void; reject(error: Error): void }>()
  #rows = new Map<number, Row>()
  #byId = new Map<number, Row>()
  #sequence = 0
  #questions = 0
  #answered = 0
  /** The rows last asked for, and those in sight. */
  #range = { from: 0, to: firstWindow }
  #seen = { from: 0, to: firstWindow }
  #wider: ReturnType<typeof setTimeout> | undefined
  #queryText = ''
  #loading = false
  #loadAgain = false
  readonly #rowsUrl: ((since: number) => string) | undefined

  /**
   * `rowsUrl` gives the address of rows changed since a revision; without it rows are put in by hand. `always` are conditions that
   * every question has; `onceBy` says which rows have one figure together, so that sums count it once.
   */
  constructor(
    specs: readonly ColumnSpec[],
    rowsUrl?: (since: number) => string,
    { always = [], onceBy = null }: { always?: Condition[]; onceBy?: OnceBy | null } = {},
  ) {
    this.#rowsUrl = rowsUrl
    this.#worker.onmessage = ({ data }: MessageEvent<FromWorker>) => this.#receive(data)
    this.#send({ type: 'open', specs: [...specs], always, onceBy })
    if (rowsUrl) this.refresh()
  }

  /** Fetches what changed since the last time; calls while one is under way become one more. */
  refresh(): void {
    if (!this.#rowsUrl) return
    if (this.#loading) {
      this.#loadAgain = true
      return
    }
    this.#loading = true
    this.#send({ type: 'load', url: this.#rowsUrl(this.revision) })
  }

  put(batch: Batch, clear = true): void {
    this.state = 'ready'
    this.#send({ type: 'put', batch, clear })
  }

  /** Whether the rows shown still answer an older question. */
  get pending(): boolean {
    return this.#answered < this.#sequence
  }

  getRow = (index: number): Row | undefined => this.#rows.get(index)

  indexOf = (id: number): number | undefined => {
    for (const [index, row] of this.#rows) if (row.id === id) return index
    return undefined
  }

  setQuery(query: SourceQuery): void {
    const text = JSON.stringify(query)
    if (text === this.#queryText) return
    this.#queryText = text
    this.#range = { from: Math.max(0, this.#seen.from - besideAnswer), to: this.#seen.to + besideAnswer }
    clearTimeout(this.#wider)
    this.#send({ type: 'query', sequence: ++this.#sequence, query, ...this.#range })
  }

  requestRange(from: number, to: number): void {
    this.#seen = { from, to }
    const wanted = { from: Math.max(0, from - aroundRows), to: to + aroundRows }
    const range = this.#range
    if (Math.max(0, from - leastAhead) >= range.from && (to + leastAhead <= range.to || range.to >= this.count)) return
    this.#range = wanted
    // After a leap nothing in sight is known: those rows come first and alone, as few come soonest.
    if (from >= range.to || to <= range.from) this.#send({ type: 'window', from, to })
    this.#send({ type: 'window', ...wanted })
  }

  subscribe = (listener: () => void): (() => void) => {
    this.#listeners.add(listener)
    return () => this.#listeners.delete(listener)
  }

  sums: WholeSource['sums'] = (columns, ids) => this.#ask({ kind: 'sums', columns, ...(ids ? { ids } : {}) })
  words: WholeSource['words'] = most => this.#ask({ kind: 'words', most })
  codes: WholeSource['codes'] = (column, leaveOut = []) => this.#ask({ kind: 'codes', column, leaveOut })
  indexesOf: WholeSource['indexesOf'] = ids => this.#ask({ kind: 'indexes', ids })
  ids: WholeSource['ids'] = () => this.#ask({ kind: 'ids' })
  rows: WholeSource['rows'] = ids => this.#ask({ kind: 'rows', ...(ids ? { ids } : {}) })
  exportFile: WholeSource['exportFile'] = (columns, format, title, ids) =>
    this.#ask({ kind: 'export', columns, format, title, ...(ids ? { ids } : {}) })

  close(): void {
    clearTimeout(this.#wider)
    this.#worker.terminate()
  }

  #send(message: ToWorker): void {
    this.#worker.postMessage(message)
  }

  #ask<T>(what: Question): Promise<T> {
    const number = ++this.#questions
    return new Promise<T>((resolve, reject) => {
      this.#waiting.set(number, { resolve: resolve as (value: unknown) => void, reject })
      this.#send({ type: 'ask', number, what })
    })
  }

  #receive(message: FromWorker): void {
    if (message.type === 'reply') {
      const waiting = this.#waiting.get(message.number)
      this.#waiting.delete(message.number)
      if (message.error === null) waiting?.resolve(message.answer)
      else waiting?.reject(new Error(message.error))
      return
    }
    if (message.type === 'loaded') {
      this.#loading = false
      this.error = message.error
      if (message.revision !== null) this.revision = message.revision
      this.state = message.error === null ? 'ready' : this.total ? 'ready' : 'failed'
      if (this.#loadAgain && message.error === null) {
        this.#loadAgain = false
        this.refresh()
      }
      this.#changed()
      return
    }
    if (message.sequence < this.#sequence) return
    this.#answered = message.sequence
    this.count = message.count
    this.total = message.total
    // Windows of one question add up while the list is scrolled: one that was overtaken still has rows that are in sight.
    const sameList = message.listVersion === this.listVersion
    this.listVersion = message.listVersion
    const rows = new Map<number, Row>()
    const byId = new Map<number, Row>()
    if (sameList)
      for (const [index, row] of this.#rows)
        if (index >= this.#range.from - mostBeside && index < this.#range.to + mostBeside) {
          rows.set(index, row)
          byId.set(row.id, row)
        }
    message.rows.forEach((row, i) => {
      const before = this.#byId.get(row.id)
      // The same object for an unchanged row lets the sheet skip drawing it.
      const kept = before && sameRow(before, row) ? before : row
      rows.set(message.from + i, kept)
      byId.set(row.id, kept)
    })
    this.#rows = rows
    this.#byId = byId
    this.#changed()
    clearTimeout(this.#wider)
    this.#wider = setTimeout(() => this.requestRange(this.#seen.from, this.#seen.to), untilWider)
  }

  #changed(): void {
    this.version++
    for (const listener of this.#listeners) listener()
  }
}

function sameRow(a: Row, b: Row): boolean {
  for (const key of Object.keys(b)) {
    const left = a[key]
    const right = b[key]
    if (left === right) continue
    if (
      !Array.isArray(left) ||
      !Array.isArray(right) ||
      left.length !== right.length ||
      left.some((value, i) => value !== right[i])
    )
      return false
  }
  return true
}
