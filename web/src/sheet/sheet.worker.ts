import type { Batch, Condition } from '@dew-trail/core/tables/column-spec'
import { ColumnStore } from '@dew-trail/core/tables/column-store'
import { maskRows } from '@dew-trail/core/tables/filter-rows'
import { foldRows } from '@dew-trail/core/tables/fold-rows'
import { pickRows, sortedRows } from '@dew-trail/core/tables/sort-rows'
import { sortText } from '@dew-trail/core/tables/condition-text'
import { countCodes, sumRows } from '@dew-trail/core/tables/sum-rows'
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
let shown: { key: string; picked: Uint32Array; rows: Uint32Array; sizes: Map<number, number>; inside: Set<number> } = {
  key: '',
  picked: new Uint32Array(0),
  rows: new Uint32Array(0),
  sizes: new Map(),
  inside: new Set(),
}
/** Conditions that every question has, and the groups whose equal figures are summed once. */
let always: Condition[] = []
let onceBy: string | null = null
let total = { version: -1, count: 0 }

const post = (message: FromWorker): void => self.postMessage(message)

/** The rows that meet the conditions in order, and those of them that are shown when groups are folded. */
function current(): typeof shown {
  const key = `${store.version}|${JSON.stringify(query)}`
  if (shown.key === key) return shown
  if (orders.version !== store.version) orders = { version: store.version, bySort: new Map() }
  const sortKey = sortText(query.sort)
  let order = orders.bySort.get(sortKey)
  if (!order) {
    order = sortedRows(store, query.sort)
    orders.bySort.set(sortKey, order)
  }
  const picked = pickRows(order, maskRows(store, [...always, ...query.where]))
  const folded = query.fold
    ? foldRows(store, picked, query.fold.by, query.fold.face, new Set(query.fold.open))
    : { rows: picked, sizes: new Map<number, number>(), inside: new Set<number>() }
  shown = { key, picked, ...folded }
  return shown
}

function totalRows(): number {
  if (!always.length) return store.count
  if (total.version !== store.version)
    total = { version: store.version, count: maskRows(store, always).reduce((sum, keep) => sum + keep, 0) }
  return total.count
}

function sendWindow(): void {
  const { key, rows, sizes, inside } = current()
  const from = Math.max(0, Math.min(shownRange.from, rows.length))
  const window: Row[] = []
  for (let i = from; i < Math.min(rows.length, shownRange.to); i++) {
    const row: Row = store.row(rows[i]!)
    if (query.fold) Object.assign(row, { familySize: sizes.get(rows[i]!) ?? 1, inFamily: inside.has(rows[i]!) })
    window.push(row)
  }
  post({ type: 'window', sequence, listVersion: key, count: rows.length, total: totalRows(), from, rows: window })
}

const rowsOf = (ids: number[]): Uint32Array =>
  Uint32Array.from(ids.map(id => store.rowOf(id)).filter(row => row !== undefined))

async function load(url: string): Promise<void> {
  const response = await fetch(url)
  if (!response.ok || !response.body) {
    const message = await response.json().then(
      body => (body as { error?: { message?: string } }).error?.message,
      () => undefined,
    )
    throw new Error(message ?? `The server answered with status ${response.status}`)
  }
  const reader = response.body.pipeThrough(new TextDecoderStream()).getReader()
  let rest = ''
  let shownOnce = store.count > 0
  let revision: number | null = null
  for (;;) {
    const { value, done } = await reader.read()
    const lines = (rest + (value ?? '')).split('\n')
    rest = lines.pop() ?? ''
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

function answer(what: Question): unknown {
  switch (what.kind) {
    case 'sums': {
      const rows = what.ids ? rowsOf(what.ids) : current().picked
      return {
        rows: rows.length,
        sums: Object.fromEntries(
          what.columns.map(column => [column, sumRows(store, rows, column, onceBy ?? undefined)]),
        ),
      }
    }
    case 'words': {
      const text = [...store.columns.values()].find(column => column.kind === 'text')
      return text?.kind === 'text' ? text.index.count(current().picked, what.most) : []
    }
    case 'codes': {
      const mask = maskRows(
        store,
        [...always, ...query.where].filter(condition => !what.leaveOut.includes(condition.column)),
      )
      return countCodes(store, pickRows(Uint32Array.from(mask.keys()), mask), what.column)
    }
    case 'ids':
      return Array.from(current().rows, row => store.ids[row]!)
    case 'rows':
      return Array.from(what.ids ? rowsOf(what.ids) : current().picked, row => store.row(row))
    case 'export': {
      const rows = what.ids ? rowsOf(what.ids) : current().rows
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
        shown = { ...shown, key: '' }
        orders = { version: -1, bySort: new Map() }
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
