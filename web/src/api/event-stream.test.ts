// @vitest-environment jsdom
import { eventsPath } from '@dew-trail/contract/events-path'
import type { SiteMessage } from '@dew-trail/contract/jobs'
import { afterEach, beforeEach, describe, expect, test, vi } from 'vitest'
import { EventStream } from './event-stream.ts'

/** Stands for the browser's: what was opened, and how each is told that it opened, heard or was refused. */
class FakeSource {
  static readonly OPEN = 1
  static readonly CLOSED = 2
  static all: FakeSource[] = []
  readyState = 0
  onopen: (() => void) | null = null
  onmessage: ((message: { data: string }) => void) | null = null
  onerror: (() => void) | null = null
  readonly url: string
  constructor(url: string) {
    this.url = url
    FakeSource.all.push(this)
  }
  close(): void {
    this.readyState = 2
  }
  open(): void {
    this.readyState = 1
    this.onopen!()
  }
  refuse(): void {
    this.readyState = 2
    this.onerror!()
  }
}

let received: Array<'open' | SiteMessage>
let stream: EventStream
beforeEach(() => {
  vi.useFakeTimers()
  FakeSource.all = []
  vi.stubGlobal('EventSource', FakeSource)
  received = []
  stream = new EventStream(eventsPath, message => received.push(message))
})
afterEach(() => {
  vi.useRealTimers()
  vi.unstubAllGlobals()
})
const last = (): FakeSource => FakeSource.all.at(-1)!

describe('the stream of events', () => {
  test('is one for all sites, opened anew only when these change, and ends with the last', () => {
    expect(stream.listenTo([2, 1, 2])).toBe(true)
    expect(last().url).toBe('/api/events?siteIds=1,2')
    last().open()
    expect(stream.isOpen).toBe(true)
    expect(stream.listenTo([1, 2])).toBe(false)
    expect(stream.listenTo([1, 2, 3])).toBe(true)
    expect(FakeSource.all.map(each => each.readyState)).toEqual([2, 0])
    stream.listenTo([])
    expect(last().readyState).toBe(2)
    expect(FakeSource.all).toHaveLength(2)
  })
  test('tells of each opening and message', () => {
    stream.listenTo([1])
    last().open()
    const message: SiteMessage = { siteId: 1, event: { type: 'keywords' } }
    last().onmessage!({ data: JSON.stringify(message) })
    expect(received).toEqual(['open', message])
  })
  test('that is refused is asked for again, with growing waits, until it opens', () => {
    stream.listenTo([1])
    for (const waitMs of [1_000, 2_000, 4_000]) {
      const count = FakeSource.all.length
      last().refuse()
      vi.advanceTimersByTime(waitMs - 1)
      expect(FakeSource.all).toHaveLength(count)
      vi.advanceTimersByTime(1)
      expect(FakeSource.all).toHaveLength(count + 1)
    }
    last().open()
    last().refuse()
    vi.advanceTimersByTime(1_000)
    expect(FakeSource.all).toHaveLength(5)
  })
  test('that breaks is left to the browser, which opens it again', () => {
    stream.listenTo([1])
    last().open()
    last().readyState = 0
    last().onerror!()
    vi.advanceTimersByTime(60_000)
    expect(FakeSource.all).toHaveLength(1)
  })
})
