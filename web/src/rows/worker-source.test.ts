import { afterEach, beforeEach, describe, expect, test, vi } from 'vitest'
import type { Row } from './row-source.ts'
import { WorkerSource } from './worker-source.ts'
import type { FromWorker, ToWorker } from './worker-messages.ts'

/** Stands for the worker: keeps what it was told and answers when the test says so. */
class FakeWorker {
  static last: FakeWorker
  readonly told: ToWorker[] = []
  onmessage: ((event: { data: FromWorker }) => void) | null = null
  closed = false
  constructor() {
    FakeWorker.last = this
  }
  postMessage(message: ToWorker): void {
    this.told.push(message)
  }
  terminate(): void {
    this.closed = true
  }
  say(data: FromWorker): void {
    this.onmessage?.({ data })
  }
}
beforeEach(() => vi.stubGlobal('Worker', FakeWorker))
afterEach(() => vi.unstubAllGlobals())

const row = (id: number, more: Partial<Row> = {}): Row =>
  ({ id, phrase: `p ${id}`, searches: 5, months: [1, null], ...more }) as Row
const rows = (ids: number[], sequence: number, from = 0, count = ids.length): FromWorker => ({
  type: 'window',
  listVersion: 'a',
  sequence,
  count,
  total: 99,
  from,
  rows: ids.map(id => row(id)),
})
const sequenceOf = (worker: FakeWorker): number => {
  const last = worker.told.findLast(message => message.type === 'query' || message.type === 'window')
  return last && 'sequence' in last ? last.sequence : 0
}
const open = (url = false) => {
  const source = new WorkerSource([{ key: 'phrase', kind: 'text' }], url ? since => `/rows?since=${since}` : undefined)
  return { source, worker: FakeWorker.last }
}

describe('windows', () => {
  test('rows are given by their place, those outside the window are not there yet', () => {
    const { source, worker } = open()
    worker.say(rows([7, 8], 0, 3, 40))
    expect([source.count, source.total]).toEqual([40, 99])
    expect(source.getRow(3)?.id).toBe(7)
    expect(source.getRow(4)?.id).toBe(8)
    expect(source.getRow(5)).toBeUndefined()
  })
  test('an answer to an older question is dropped', () => {
    const { source, worker } = open()
    source.setQuery({ where: [], sort: [{ column: 'phrase', down: false }] })
    const older = sequenceOf(worker)
    source.setQuery({ where: [{ column: 'phrase', op: 'has', value: 'k' }], sort: [] })
    expect(source.pending).toBe(true)
    worker.say(rows([1, 2, 3], older))
    expect(source.count).toBe(0)
    expect(source.pending).toBe(true)
    worker.say(rows([2], sequenceOf(worker)))
    expect(source.count).toBe(1)
    expect(source.pending).toBe(false)
  })
  test('the same question is asked once', () => {
    const { source, worker } = open()
    source.setQuery({ where: [], sort: [] })
    const count = worker.told.length
    source.setQuery({ where: [], sort: [] })
    expect(worker.told.length).toBe(count)
  })
  test('scrolling asks only when it leaves what is here, with some rows around', () => {
    const { source, worker } = open()
    worker.say(rows([1, 2], 0, 0, 900))
    source.requestRange(300, 330)
    // What a leap leads to comes first and alone.
    expect(worker.told.at(-2)).toMatchObject({ type: 'window', from: 300, to: 330 })
    expect(worker.told.at(-1)).toMatchObject({ type: 'window', from: 60, to: 570 })
    worker.say(rows([7], 0, 60, 900))
    const before = worker.told.length
    source.requestRange(400, 430)
    expect(worker.told.length).toBe(before)
    // Before the rows that are here end, the next are on their way.
    source.requestRange(460, 490)
    expect(worker.told.at(-1)).toMatchObject({ type: 'window', from: 220, to: 730 })
  })
  test('a new question asks for little more than what is in sight; the rows around follow when nobody asks on', () => {
    vi.useFakeTimers()
    const { source, worker } = open()
    source.requestRange(0, 24)
    source.setQuery({ where: [], sort: [{ column: 'phrase', down: false }] })
    expect(worker.told.at(-1)).toMatchObject({ type: 'query', from: 0, to: 36 })
    worker.say(rows([1, 2], sequenceOf(worker), 0, 900))
    const before = worker.told.length
    vi.advanceTimersByTime(1_000)
    expect(worker.told.length).toBe(before + 1)
    expect(worker.told.at(-1)).toMatchObject({ type: 'window', from: 0, to: 264 })
    vi.useRealTimers()
  })
  test('an unchanged row stays the same object, a changed one does not', () => {
    const { source, worker } = open()
    worker.say(rows([1, 2], 0))
    const [first, second] = [source.getRow(0), source.getRow(1)]
    worker.say({
      type: 'window',
      listVersion: 'a',
      sequence: 0,
      count: 2,
      total: 2,
      from: 0,
      rows: [row(1), row(2, { months: [1, 4] })],
    })
    expect(source.getRow(0)).toBe(first)
    expect(source.getRow(1)).not.toBe(second)
  })
  test('windows of one list add up, those of another list take their place', () => {
    const { source, worker } = open()
    worker.say(rows([1, 2], 0))
    worker.say(rows([3, 4], 0, 2, 4))
    expect([0, 1, 2, 3].map(index => source.getRow(index)?.id)).toEqual([1, 2, 3, 4])
    worker.say({ ...rows([9], 0, 0, 1), listVersion: 'b' } as FromWorker)
    expect([0, 1].map(index => source.getRow(index)?.id)).toEqual([9, undefined])
  })
  test('listeners hear of changes until they stop listening', () => {
    const { source, worker } = open()
    const heard = vi.fn()
    const stop = source.subscribe(heard)
    worker.say(rows([1], 0))
    stop()
    worker.say(rows([1, 2], 0))
    expect(heard).toHaveBeenCalledTimes(1)
  })
})

describe('loading', () => {
  test('begins at once, asks for what is new since the last revision, and joins calls made meanwhile', () => {
    const { source, worker } = open(true)
    const loads = () =>
      worker.told.filter(message => message.type === 'load').map(message => (message as { url: string }).url)
    expect(source.state).toBe('loading')
    source.refresh()
    source.refresh()
    expect(loads()).toEqual(['/rows?since=0'])
    worker.say({ type: 'loaded', revision: 41, error: null })
    expect(loads()).toEqual(['/rows?since=0', '/rows?since=41'])
    worker.say({ type: 'loaded', revision: 42, error: null })
    expect(loads()).toHaveLength(2)
    expect(source.state).toBe('ready')
  })
  test('a failure says why; with rows here they stay', () => {
    const { source, worker } = open(true)
    worker.say({ type: 'loaded', revision: null, error: 'The server cannot be reached' })
    expect([source.state, source.error]).toEqual(['failed', 'The server cannot be reached'])
    worker.say(rows([1], 0))
    source.refresh()
    worker.say({ type: 'loaded', revision: null, error: 'again' })
    expect([source.state, source.count]).toEqual(['ready', 1])
  })
})

describe('questions', () => {
  test('are answered to whoever asked, in any order; errors reject', async () => {
    const { source, worker } = open()
    const [ids, words, broken] = [source.ids(), source.words(5), source.codes('nothing')]
    const numbers = worker.told
      .filter(message => message.type === 'ask')
      .map(message => (message as { number: number }).number)
    worker.say({ type: 'reply', number: numbers[1]!, answer: [{ word: 'kiln', rows: 2 }], error: null })
    worker.say({ type: 'reply', number: numbers[0]!, answer: [4, 5], error: null })
    worker.say({ type: 'reply', number: numbers[2]!, answer: null, error: 'there is no column "nothing"' })
    expect(await ids).toEqual([4, 5])
    expect(await words).toEqual([{ word: 'kiln', rows: 2 }])
    await expect(broken).rejects.toThrow('no column')
  })
  test('closing ends the worker', () => {
    const { source, worker } = open()
    source.close()
    expect(worker.closed).toBe(true)
  })
})
