import type { Batch, Condition } from '@dew-trail/core/tables/column-spec'
import { ColumnStore } from '@dew-trail/core/tables/column-store'
import { arrivalOrder, maskRows, rowsIn, sumMask } from '@dew-trail/core/tables/filter-rows'
import { type Folded, foldRows } from '@dew-trail/core/tables/fold-rows'
import { pickFirstRows, pickRows, sortedRows } from '@dew-trail/core/tables/sort-rows'
import { sortText } from '@dew-trail/core/tables/condition-text'
import { type ColumnSum, countCodes, sumRows } from '@dew-trail/core/tables/sum-rows'
import { exportTable } from './export-table.ts'
import type { Row, SourceQuery } from './row-source.ts'
import type { FromWorker, Question, ToWorker } from './worker-messages.ts'

/** Holds a table's rows column by column, loads them itself, filters, sorts and sums off the main thread, and sends only what is seen. */
let store = new ColumnStore([])
let query: SourceQuery = { where: [], sort: [] }
let sequence = 0
let shownRange = { from: 0, to: 60 }
/** Orders of all rows by sort, good for one version of the store. */
let orders = { version: -1, bySort: new Map<string, Uint32Array>() }
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
let shown = nothing
/** Conditions that every question has, and the groups whose equal figures are summed once. */
let always: Condition[] = []
let onceBy: string | null = null
let restMask: { key: string; mask: Uint8Array } = { key: '', mask: new Uint8Array(0) }
let total = { version: -1, count: 0 }

/** Up to this place rows are looked for anew with every question: a key is answered before all of them are put in order. */
const firstPlaces = 2_000

const post = (message: FromWorker): void => self.postMessage(message)

function current(): Answer {
  const key = `${store.version}|${JSON.stringify(query)}`
  if (shown.key === key) return shown
  if (orders.version !== store.version) orders = { version: store.version, bySort: new Map() }
  const sortKey = sortText(query.sort)
  let order = orders.bySort.get(sortKey)
  if (!order) {
    order = sortedRows(store, query.sort)
    orders.bySort.set(sortKey, order)
  }
  const mask = shownMask()
  shown = { key, order, mask, count: 0, picked: null, folded: null }
  const { fold } = query
  if (fold) shown.folded = foldRows(store, pickedRows(shown), fold.by, fold.face, new Set(fold.open))
  shown.count = shown.folded ? shown.folded.rows.length : sumMask(mask)
  return shown
}

/** All rows that meet the conditions, in order. */
const pickedRows = (answer: Answer): Uint32Array => (answer.picked ??= pickRows(answer.order, answer.mask))
/** Those of them that are shown, at least up to a place. */
function shownRows(answer: Answer, upTo = Number.POSITIVE_INFINITY): Uint32Array {
  if (answer.folded) return answer.folded.rows
  return !answer.picked && upTo <= firstPlaces ? pickFirstRows(answer.order, answer.mask, upTo) : pickedRows(answer)
}

/** The rows that meet the conditions. While somebody types only the text changes, so the mask of all other conditions is kept. */
function shownMask(): Uint8Array {
  const isText = ({ op }: Condition): boolean => op === 'has' || op === 'without'
  const rest = [...always, ...query.where.filter(condition => !isText(condition))]
  const key = `${store.version}|${JSON.stringify(rest)}`
  if (restMask.key !== key) restMask = { key, mask: maskRows(store, rest) }
  return maskRows(store, query.where.filter(isText), restMask.mask)
}

function totalRows(): number {
  if (!always.length) return store.count
  if (total.version !== store.version) total = { version: store.version, count: sumMask(maskRows(store, always)) }
  return total.count
}

function sendWindow(): void {
  const answer = current()
  const { key, count, folded } = answer
  const from = Math.max(0, Math.min(shownRange.from, count))
  const to = Math.min(count, shownRange.to)
  const rows = shownRows(answer, to)
  const window: Row[] = []
  for (let i = from; i < to; i++) {
    const row: Row = store.row(rows[i]!)
    if (folded) Object.assign(row, { familySize: folded.sizeOf(rows[i]!), inFamily: folded.isInside(rows[i]!) })
    window.push(row)
  }
  post({ type: 'window', sequence, listVersion: key, count, total: totalRows(), from, rows: window })
}

const rowsOf = (ids: number[]): Uint32Array =>
  Uint32Array.from(ids.map(id => store.rowOf(id)).filter(row => row !== undefined))

function joined(pieces: Uint8Array[]): Uint8Array {
  const out = new Uint8Array(pieces.reduce((sum, piece) => sum + piece.length, 0))
  let at = 0
  for (const piece of pieces) {
    out.set(piece, at)
    at += piece.length
  }
  return out
}

async function load(url: string): Promise<void> {
  const response = await fetch(url)
  if (!response.ok || !response.body) {
    const message = await response.json().then(
      body => (body as { error?: { message?: string } }).error?.message,
      () => undefined,
    )
    throw new Error(message ?? `The server answered with status ${response.status}`)
  }
  const reader = response.body.getReader()
  const decoder = new TextDecoder()
  // Pieces of a line that has not ended: joined and decoded once, since a line is long and comes in many pieces.
  let pieces: Uint8Array[] = []
  let shownOnce = store.count > 0
  let revision: number | null = null
  for (;;) {
    const { value, done } = await reader.read()
    const lines: string[] = []
    let start = 0
    for (let end = value?.indexOf(10) ?? -1; end >= 0; end = value!.indexOf(10, start)) {
      pieces.push(value!.subarray(start, end))
      lines.push(decoder.decode(joined(pieces)))
      pieces = []
      start = end + 1
    }
    if (value && start < value.length) pieces.push(value.subarray(start))
    for (const line of lines) {
      if (!line) continue
      const data = JSON.parse(line) as Batch | { revision: number }
      if ('revision' in data) revision = data.revision
      else {
        store.upsert(data)
        // The first rows of a long table are shown before the rest is here.
        if (!shownOnce) {
          shownOnce = true
          sendWindow()
        }
      }
    }
    if (done) break
  }
  if (revision === null) throw new Error('The rows ended early')
  sendWindow()
  post({ type: 'loaded', revision, error: null })
}

/**
 * A pause in which a new question is heard: at 500,000 rows a column's sums take tens of milliseconds, and a key typed meanwhile must
 * not wait for all of them. Rejects when such a question, or rows, came.
 */
async function giveWay(asked: number, version: number): Promise<void> {
  await new Promise(resolve => setTimeout(resolve, 0))
  if (sequence !== asked || store.version !== version) throw new Error('A newer question came')
}

async function answerSums(columns: string[], rows: Uint32Array): Promise<{ rows: number; sums: object }> {
  const [asked, version] = [sequence, store.version]
  const sums: Record<string, ColumnSum> = {}
  for (const column of columns) {
    sums[column] = sumRows(store, rows, column, onceBy ?? undefined)
    await giveWay(asked, version)
  }
  return { rows: rows.length, sums }
}

const countedAtATime = 60_000
async function answerWords(most: number): Promise<Array<{ word: string; rows: number }>> {
  const text = [...store.columns.values()].find(column => column.kind === 'text')
  if (text?.kind !== 'text') return []
  const [asked, version, rows] = [sequence, store.version, arrivalOrder(store, pickedRows(current()))]
  let counts: Uint32Array | undefined
  for (let at = 0; at < rows.length; at += countedAtATime) {
    counts = text.index.addCounts(rows.subarray(at, at + countedAtATime), counts)
    await giveWay(asked, version)
  }
  return counts ? text.index.mostFrequent(counts, most) : []
}

function answer(what: Question): unknown {
  switch (what.kind) {
    case 'sums':
      return answerSums(what.columns, arrivalOrder(store, what.ids ? rowsOf(what.ids) : pickedRows(current())))
    case 'words':
      return answerWords(what.most)
    case 'codes': {
      const mask = maskRows(
        store,
        [...always, ...query.where].filter(condition => !what.leaveOut.includes(condition.column)),
      )
      return countCodes(store, rowsIn(mask), what.column)
    }
    case 'places': {
      const wanted = new Map(what.ids.map(id => [store.rowOf(id), id]))
      const places: Array<{ id: number; index: number }> = []
      const rows = shownRows(current())
      for (let index = 0; index < rows.length && places.length < wanted.size; index++) {
        const id = wanted.get(rows[index]!)
        if (id !== undefined) places.push({ id, index })
      }
      return places
    }
    case 'ids':
      return Array.from(shownRows(current()), row => store.ids[row]!)
    case 'rows':
      return Array.from(what.ids ? rowsOf(what.ids) : pickedRows(current()), row => store.row(row))
    case 'export': {
      const rows = what.ids ? rowsOf(what.ids) : shownRows(current())
      return exportTable(what.format, {
        columns: what.columns,
        rows: Array.from(rows, row => what.columns.map(column => store.cell(row, column.key))),
      })
    }
  }
}

let loading: Promise<void> = Promise.resolve()
self.onmessage = ({ data }: MessageEvent<ToWorker>) => {
  switch (data.type) {
    case 'open':
      store = new ColumnStore(data.specs)
      ;({ always, onceBy } = data)
      break
    case 'load':
      loading = loading
        .then(() => load(data.url))
        .catch(error =>
          post({
            type: 'loaded',
            revision: null,
            error: error instanceof TypeError ? 'The server cannot be reached' : (error as Error).message,
          }),
        )
      break
    case 'put':
      if (data.clear) {
        store = new ColumnStore(store.specs)
        shown = nothing
        orders = { version: -1, bySort: new Map() }
        total = { version: -1, count: 0 }
        restMask = { key: '', mask: new Uint8Array(0) }
      }
      store.upsert(data.batch)
      sendWindow()
      break
    case 'query':
      query = data.query
      sequence = data.sequence
      shownRange = { from: data.from, to: data.to }
      sendWindow()
      break
    case 'window':
      shownRange = { from: data.from, to: data.to }
      sendWindow()
      break
    case 'ask':
      Promise.resolve()
        .then(() => answer(data.what))
        .then(
          value => post({ type: 'reply', number: data.number, answer: value, error: null }),
          error => post({ type: 'reply', number: data.number, answer: null, error: (error as Error).message }),
        )
  }
}
