import { keepKeywords, startGathering } from '@dew-trail/contract/gather'
import { eventsPath } from '@dew-trail/contract/events-path'
import { type SiteEvent, siteMessage } from '@dew-trail/contract/jobs'
import { createSite } from '@dew-trail/contract/sites'
import type { Site } from '@dew-trail/contract/sites'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { demoSite, type TestServer, testServer } from './test-server.ts'

let server: TestServer
let site: Site
beforeAll(async () => {
  server = await testServer()
  site = await demoSite(server)
})
afterAll(() => server.close())

/** Opens the event stream of a site; `until` waits for an event that fits. */
async function listen(siteId: number) {
  const stop = new AbortController()
  const response = await fetch(`${server.url}${eventsPath([siteId])}`, { signal: stop.signal })
  const events: SiteEvent[] = []
  void (async () => {
    let rest = ''
    const decoder = new TextDecoder()
    for await (const chunk of response.body!) {
      const parts = (rest + decoder.decode(chunk as Uint8Array, { stream: true })).split('\n\n')
      rest = parts.pop() ?? ''
      for (const part of parts)
        if (part.startsWith('data: ')) events.push(siteMessage.parse(JSON.parse(part.slice(6))).event)
    }
  })().catch(() => undefined)
  return {
    events,
    type: response.headers.get('content-type'),
    stop: () => stop.abort(),
    async until(fits: (event: SiteEvent) => boolean) {
      while (!events.some(fits)) await new Promise(resolve => setTimeout(resolve, 10))
    },
  }
}

describe('the event stream', () => {
  test('tells of rows, gatherings and a job from beginning to end, in agreed shapes', async () => {
    const stream = await listen(site.id)
    expect(stream.type).toContain('text/event-stream')
    const { jobs } = await server.call(startGathering, {
      siteId: site.id,
      marketId: site.markets[0]!.id,
      seeds: ['kiln'],
      mostIdeas: 40,
    })
    await stream.until(event => event.type === 'job' && event.job.id === jobs[0]!.jobId && event.job.state === 'done')
    expect(stream.events.some(event => event.type === 'keywords')).toBe(true)
    expect(stream.events.some(event => event.type === 'gatherings')).toBe(true)
    const done = stream.events.flatMap(event => (event.type === 'job' ? [event.job.done] : []))
    expect(done).toEqual([...done].sort((a, b) => a - b))
    stream.stop()
  })

  test('many changes at once become few events, and other sites hear nothing', async () => {
    const { rows } = await server.rows(site.id, site.markets[0]!.id)
    const another = await server.call(createSite, { domain: 'another.example', name: 'Another' })
    const [own, other] = [await listen(site.id), await listen(another.id)]
    for (const row of rows.slice(0, 20))
      await server.call(keepKeywords, { siteId: site.id, keywordIds: [row.id], kept: true })
    await own.until(event => event.type === 'keywords')
    await new Promise(resolve => setTimeout(resolve, 200))
    expect(own.events.length).toBeLessThan(20)
    expect(other.events).toEqual([])
    own.stop()
    other.stop()
  })

  test('of several sites is one, of a site that is not there is refused, and there are not too many', async () => {
    const few = await testServer({ EVENT_STREAMS: '2' }, server.databaseUrl)
    const stop = new AbortController()
    const ask = async (siteIds: string) =>
      (await fetch(`${few.url}/api/events?siteIds=${siteIds}`, { signal: stop.signal })).status
    const { id } = await server.call(createSite, { domain: 'several.example', name: 'Several' })
    expect(await ask('999999')).toBe(404)
    expect(await ask('')).toBe(400)
    expect(await ask(`${site.id},${id}`)).toBe(200)
    expect(await ask(`${site.id}`)).toBe(200)
    expect(await ask(`${site.id}`)).toBe(503)
    stop.abort()
    await few.close()
  })
})
