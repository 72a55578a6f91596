import type { Site } from '@dew-trail/contract/sites'
import { afterEach, beforeEach, expect, test, vi } from 'vitest'
import { beginEarly, takeKeywords, takeSites } from './early-source.ts'

const made: Array<{ loads: string[]; closed: boolean }> = []
class FakeWorker {
  readonly seen = { loads: [] as string[], closed: false }
  onmessage = null
  constructor() {
    made.push(this.seen)
  }
  postMessage(message: { type: string; url?: string }): void {
    if (message.type === 'load') this.seen.loads.push(message.url!)
  }
  terminate(): void {
    this.seen.closed = true
  }
}
const site = (id: number, markets: number[]): Site =>
  ({ id, domain: `s${id}.example`, markets: markets.map(market => ({ id: market })) }) as Site
let answers: Array<() => Response>
beforeEach(() => {
  made.length = 0
  answers = []
  vi.stubGlobal('Worker', FakeWorker)
  vi.stubGlobal('fetch', async () => answers.shift()!())
})
afterEach(() => vi.unstubAllGlobals())
const sites = (): Response => Response.json([site(1, [10]), site(2, [20, 21])])

test('the keywords of the address are loaded before anybody takes them, and only once', async () => {
  answers = [sites]
  beginEarly({ pathname: '/2/gather', search: '?market=21' })
  expect((await takeSites()).map(each => each.id)).toEqual([1, 2])
  expect(made.map(each => each.loads)).toEqual([['/api/sites/2/keywords?marketId=21&since=0']])
  takeKeywords(2, 21)
  expect(made).toHaveLength(1)
  takeKeywords(2, 21)
  expect(made).toHaveLength(2)
})

test('keywords of another site than the one that is shown are let go', async () => {
  answers = [sites]
  beginEarly({ pathname: '/', search: '' })
  await takeSites()
  takeKeywords(2, 20)
  expect(made.map(each => each.closed)).toEqual([true, false])
  expect(made[1]!.loads[0]).toContain('/api/sites/2/')
})

test('sites are asked for again after the first time, and a failure is heard by who takes them', async () => {
  answers = [
    () => Response.json({ error: { code: 'internal', message: 'The database is down' } }, { status: 500 }),
    sites,
  ]
  beginEarly({ pathname: '/1', search: '' })
  await expect(takeSites()).rejects.toThrow('The database is down')
  expect(await takeSites()).toHaveLength(2)
  expect(made).toHaveLength(0)
})
