import { keepKeywords } from '@dew-trail/contract/gather'
import { listSites } from '@dew-trail/contract/sites'
import { afterEach, expect, test, vi } from 'vitest'
import { call } from './call.ts'

afterEach(() => vi.unstubAllGlobals())

/** Answers that wait until they are let go, counting how often each address was asked. */
function slowServer() {
  const requests: string[] = []
  let letGo: Array<() => void> = []
  vi.stubGlobal('fetch', (url: string, init: RequestInit) => {
    requests.push(`${init.method} ${url}`)
    return new Promise<Response>(resolve => letGo.push(() => resolve(Response.json({ changed: requests.length }))))
  })
  const answerAll = () => {
    for (const go of letGo) go()
    letGo = []
  }
  return { requests, answerAll }
}

test('a change that is asked for again while it is under way is one call; later, or another, it is a new one', async () => {
  const { requests, answerAll } = slowServer()
  const keep = (ids: number[]) => call(keepKeywords, { siteId: 1, keywordIds: ids, kept: true })
  const both = [keep([1]), keep([1]), keep([2])]
  await vi.waitFor(() => expect(requests).toHaveLength(2))
  answerAll()
  const [first, second] = await Promise.all(both)
  expect(second).toBe(first)
  const again = keep([1])
  await vi.waitFor(() => expect(requests).toHaveLength(3))
  answerAll()
  await again
})

test('questions are asked each time', async () => {
  const { requests, answerAll } = slowServer()
  const both = [call(listSites, {}), call(listSites, {})]
  await vi.waitFor(() => expect(requests).toHaveLength(2))
  answerAll()
  await Promise.all(both)
})
