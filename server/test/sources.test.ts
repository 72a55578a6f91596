import { askFigures, listGatherings, startGathering } from '@dew-trail/contract/gather'
import { actOnJob } from '@dew-trail/contract/jobs'
import { createSite, type Site } from '@dew-trail/contract/sites'
import { limitSource, listEngines, listSources } from '@dew-trail/contract/sources'
import { startWeighing } from '@dew-trail/contract/weigh'
import { createServer, type Server } from 'node:http'
import { afterAll, afterEach, beforeAll, describe, expect, inject, test } from 'vitest'
import { retryAfterMs } from '../src/sources/source-client.ts'
import { demoSite, type TestServer, testServer } from './test-server.ts'

let server: TestServer
let site: Site
beforeAll(async () => {
  server = await testServer({ SOURCE_URL: (await ownStandin()).url, SOURCE_TIMEOUT_MS: '1500', SOURCE_TRIES: '3' })
  site = await demoSite(server)
})
afterEach(() => {
  failing = () => undefined
  altering = (_, body) => body
  requests.clear()
})
afterAll(async () => {
  await server.close()
  standin.close()
})

// A tiny source of our own in front of the tests' stand-in, which can be told to fail.
let standin: Server
let failing: (
  path: string,
  times: number,
) => { status: number; headers?: Record<string, string>; body?: string } | 'hang' | undefined = () => undefined
/** Changes what the stand-in answered before it is passed on. */
let altering: (path: string, body: any) => unknown = (_, body) => body
const requests = new Map<string, number>()
async function ownStandin(): Promise<{ url: string }> {
  standin = createServer(async (request, response) => {
    const chunks: Buffer[] = []
    for await (const chunk of request) chunks.push(chunk as Buffer)
    const body = Buffer.concat(chunks)
    const key = `${request.url} ${body.toString('utf8')}`
    requests.set(key, (requests.get(key) ?? 0) + 1)
    const fault = failing(request.url ?? '', requests.get(key)!)
    if (fault === 'hang') return
    if (fault) {
      response.writeHead(fault.status, { 'content-type': 'application/json', ...fault.headers })
      response.end(fault.body ?? '{}')
      return
    }
    const answer = await fetch(inject('source') + request.url, {
      method: request.method ?? 'GET',
      headers: { authorization: String(request.headers.authorization), 'content-type': 'application/json' },
      ...(body.length ? { body } : {}),
    })
    response.writeHead(answer.status, { 'content-type': String(answer.headers.get('content-type')) })
    response.end(JSON.stringify(altering(request.url ?? '', await answer.json())))
  })
  await new Promise<void>(resolve => standin.listen(0, '127.0.0.1', () => resolve()))
  const address = standin.address()
  return { url: `http://127.0.0.1:${typeof address === 'object' && address ? address.port : 0}` }
}
const gather = async (seed: string) => {
  const { jobs } = await server.call(startGathering, {
    siteId: site.id,
    marketId: site.markets[0]!.id,
    seeds: [seed],
    mostIdeas: 60,
  })
  return { ...jobs[0]!, job: await server.finish(jobs[0]!.jobId) }
}

const sourceOf = async (on: TestServer, key: string) =>
  (await on.call(listSources, { siteId: site.id })).find(each => each.key === key)!

describe('a limit a day', () => {
  test(`is kept to the request, named where it stops a job, known after a restart, and a retry goes
    on without it`, async () => {
    const { today, mostADay } = await sourceOf(server, 'completions')
    expect(mostADay).toBeNull()
    const limit = today.requests + 2
    await server.call(limitSource, { key: 'completions', mostADay: limit })
    const { jobId, job } = await gather('glaze tongs')
    expect(job.state).toBe('done')
    expect(job.warnings[0]!.what).toContain(`your limit of ${limit} requests a day is reached`)
    expect(await sourceOf(server, 'completions')).toMatchObject({ mostADay: limit, today: { requests: limit } })
    // As a server does when it ends, and every two seconds.
    await server.context.sources.saveUse()
    const restarted = await testServer({}, server.databaseUrl)
    expect(await sourceOf(restarted, 'completions')).toMatchObject({ mostADay: limit, today: { requests: limit } })
    await restarted.close()
    await server.call(limitSource, { key: 'completions', mostADay: null })
    await server.call(actOnJob, { jobId, action: 'retry' })
    expect(await server.finish(jobId)).toMatchObject({ state: 'done', warnings: [] })
  })
  test('below 0 is refused, and so is one for the web, whose crawls have their own', async () => {
    await expect(server.call(limitSource, { key: 'ads', mostADay: -1 })).rejects.toThrow('0 or more')
    const web = await server.raw('/api/sources/web/limit', {
      method: 'PATCH',
      headers: { 'content-type': 'application/json' },
      body: '{"mostADay":5}',
    })
    expect(web.status).toBe(400)
  })
})

describe('a source that misbehaves', () => {
  test('an answer of 503 is asked again and the gathering is whole', async () => {
    failing = (path, times) => (path.startsWith('/completions') && times === 1 ? { status: 503 } : undefined)
    const { job } = await gather('slab roller')
    expect(job).toMatchObject({ state: 'done', warnings: [] })
  })

  test('429 with Retry-After is waited for', async () => {
    failing = (path, times) =>
      path.startsWith('/ads') && times === 1 ? { status: 429, headers: { 'retry-after': '1' } } : undefined
    const { job } = await gather('pug mill')
    expect(job).toMatchObject({ state: 'done', warnings: [] })
    expect(requests.size).toBeGreaterThan(0)
  })

  test('a broken body, a wrong content type and a wrong shape are not taken for data', async () => {
    failing = (path, times) =>
      !path.startsWith('/completions') || times > 1
        ? undefined
        : path.includes('how')
          ? { status: 200, body: '["x", ["y"' }
          : path.includes('what')
            ? { status: 200, headers: { 'content-type': 'text/html' }, body: '<h1>hello</h1>' }
            : path.includes('why')
              ? { status: 200, body: '{"other":1}' }
              : undefined
    expect((await gather('clay extruder')).job).toMatchObject({ state: 'done', warnings: [] })
  })

  test('a source that stays down is named with its reason while the rest goes on, and a retry fills the gap', async () => {
    failing = path => (path.startsWith('/completions') ? { status: 503 } : undefined)
    const { gatheringId, jobId, job } = await gather('wire cutter')
    expect(job.state).toBe('done')
    expect(job.warnings[0]!.what).toContain('Completions is not available')
    const before = (await server.call(listGatherings, { siteId: site.id })).find(each => each.id === gatheringId)!
    expect(before.found).toBeGreaterThan(0)
    expect(before.warnings.length).toBeGreaterThan(0)
    failing = () => undefined
    await server.call(actOnJob, { jobId, action: 'retry' })
    expect(await server.finish(jobId)).toMatchObject({ state: 'done', warnings: [] })
    expect(
      (await server.call(listGatherings, { siteId: site.id })).find(each => each.id === gatheringId)!.found,
    ).toBeGreaterThanOrEqual(before.found)
  })

  test('no answer at all ends after the time-out and is said', async () => {
    failing = path => (path.startsWith('/engines') ? 'hang' : undefined)
    const { job } = await gather('glaze brush')
    expect(job.warnings.some(each => each.what.includes('did not answer within 1.5 s'))).toBe(true)
  })

  test('a used-up quota ends the weighing with its reason, is not tried again, and leaves no figure behind', async () => {
    await gather('kiln shelf')
    const { rows } = await server.rows(site.id, site.markets[0]!.id)
    failing = path =>
      path.startsWith('/engines') ? { status: 403, body: '{"error":{"code":"quota_used"}}' } : undefined
    requests.clear()
    const { jobId } = await server.call(startWeighing, {
      siteId: site.id,
      marketId: site.markets[0]!.id,
      keywordIds: [rows[0]!.id],
    })
    expect(await server.finish(jobId!)).toMatchObject({
      state: 'failed',
      error: "The search engine: today's quota is used up",
    })
    expect([...requests.values()].every(times => times === 1)).toBe(true)
    const row = (await server.rows(site.id, site.markets[0]!.id)).rows.find(each => each.id === rows[0]!.id)!
    expect(row).toMatchObject({ difficulty: null, chance: null, weighState: 'failed' })
  })

  test('figures that a source leaves out are named and asked for again, not taken for nothing', async () => {
    altering = (path, body) =>
      path.startsWith('/ads/figures') ? { figures: body.figures.filter((_: unknown, i: number) => i % 3) } : body
    const { job, gatheringId } = await gather('clay mixer')
    expect(job.warnings.map(each => each.what).join()).toMatch(/The ads data left out \d+ of \d+ keywords/)
    const found = async () =>
      (await server.rows(site.id, site.markets[0]!.id)).rows.filter(row =>
        row.gatherings.split('|').includes(String(gatheringId)),
      )
    const failed = (await found()).filter(row => row.demandState === 'failed')
    expect(failed.length).toBeGreaterThan(0)
    expect(failed.every(row => row.searches === null)).toBe(true)
    altering = (_, body) => body
    const { jobId } = await server.call(askFigures, {
      siteId: site.id,
      marketId: site.markets[0]!.id,
      keywordIds: failed.map(row => row.id),
    })
    expect((await server.finish(jobId)).warnings).toEqual([])
    expect((await found()).filter(row => row.demandState === 'failed')).toEqual([])
  })

  test('a source with fewer ideas than were asked for is named with both numbers', async () => {
    altering = (path, body) =>
      path.startsWith('/ads/ideas') ? { ideas: body.ideas.slice(0, 7), next_page_token: null } : body
    const { gatheringId } = await gather('glaze brush')
    const listed = await server.call(listGatherings, { siteId: site.id })
    expect(listed.find(each => each.id === gatheringId)!.short).toEqual([
      { what: 'ideas from the ads data', given: 7, requested: 60 },
    ])
  })

  test('what is used is counted by source and day', async () => {
    await gather('trimming tool')
    await server.context.sources.saveUse()
    const { rows } = await server.context.pool.query('select source, requests from source_use order by source')
    expect(rows.map(row => row.source)).toEqual(expect.arrayContaining(['ads', 'completions', 'engines']))
    expect(rows.every(row => row.requests > 0)).toBe(true)
  })
})

describe('Retry-After', () => {
  test.each([
    ['2', 2_000],
    [undefined, 1_000],
    ['nonsense', 1_000],
    ['100000', 60_000],
    ['-5', 0],
  ])('%s waits %d ms', (header, ms) => expect(retryAfterMs(header)).toBe(ms))
})

describe('engines', () => {
  test('are what the source offers, and a new site gets a market for each device of those that offer its place', async () => {
    const server = await testServer()
    try {
      const engines = await server.call(listEngines, {})
      expect(engines.map(each => each.engine)).toEqual(['lantern', 'plover'])
      const site = await server.call(createSite, {
        domain: 'glazeworks.example',
        name: 'Glazeworks',
        place: 'brunnach',
      })
      expect(site.markets.map(({ engine, place, language, device }) => [engine, place, language, device])).toEqual([
        ['lantern', 'brunnach', 'de', 'desktop'],
        ['lantern', 'brunnach', 'de', 'mobile'],
        ['plover', 'brunnach', 'de', 'desktop'],
        ['plover', 'brunnach', 'de', 'mobile'],
      ])
      const add = (more: object) => server.call(createSite, { domain: 'other.example', name: 'Other', ...more })
      await expect(add({ place: 'atlantis' })).rejects.toThrow('No engine searches atlantis')
      await expect(add({ place: 'brunnach', language: 'en' })).rejects.toThrow('No engine searches brunnach in "en"')
      await expect(add({ timeZone: 'Nowhere/Land' })).rejects.toThrow('no time zone')
      expect((await add({ timeZone: 'Europe/Berlin' })).markets[0]).toMatchObject({ place: 'tarrow', language: 'en' })
    } finally {
      await server.close()
    }
  })
  test('show a person their results without a key, at the address that they give', async () => {
    const server = await testServer()
    try {
      const { page } = (await server.call(listEngines, {}))[0]!
      const given: Record<string, string> = {
        query: '"kiln" <shelf>',
        place: 'tarrow',
        language: 'en',
        device: 'mobile',
      }
      const address = page!.replace(/\{(\w+)\}/g, (_, name) => encodeURIComponent(given[name]!))
      const answer = await fetch(address)
      expect([answer.status, answer.headers.get('content-type')]).toEqual([200, 'text/html; charset=utf-8'])
      const html = await answer.text()
      expect(html).toContain('<h1>&quot;kiln&quot; &lt;shelf&gt;</h1>')
      expect(html.match(/<li>/g)!.length).toBeGreaterThanOrEqual(5)
      expect((await fetch(address.replace('lantern', 'nobody'))).status).toBe(400)
    } finally {
      await server.close()
    }
  })
})
