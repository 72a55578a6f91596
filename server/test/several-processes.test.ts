import { startCrawl } from '@dew-trail/contract/crawl'
import { eventsPath } from '@dew-trail/contract/events-path'
import { startGathering } from '@dew-trail/contract/gather'
import { runImport, type Uploaded } from '@dew-trail/contract/imports'
import { actOnJob, getJob, type Job, type SiteEvent, siteMessage } from '@dew-trail/contract/jobs'
import type { Site } from '@dew-trail/contract/sites'
import { limitSource } from '@dew-trail/contract/sources'
import pg from 'pg'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { makeXlsx } from '../src/platform/files/make-workbook.ts'
import { SharedRate, SharedTurns } from '../src/platform/cluster/shared-limits.ts'
import { demoSite, type TestServer, testServer } from './test-server.ts'

let web: TestServer
let work: TestServer
let site: Site
let marketId: number
let stream: Awaited<ReturnType<typeof listen>>
beforeAll(async () => {
  web = await testServer({ ROLE: 'web' })
  site = await demoSite(web)
  marketId = site.markets[0]!.id
  stream = await listen(web, site.id)
})
afterAll(async () => {
  stream.stop()
  await web.close()
  await work?.close()
})

/** What a browser at a process hears of a site. */
async function listen(server: TestServer, siteId: number) {
  const stop = new AbortController()
  const response = await fetch(`${server.url}${eventsPath([siteId])}`, { signal: stop.signal })
  const events: SiteEvent[] = []
  void (async () => {
    let rest = ''
    for await (const chunk of response.body!) {
      const parts = (rest + new TextDecoder().decode(chunk as Uint8Array)).split('\n\n')
      rest = parts.pop() ?? ''
      for (const part of parts)
        if (part.startsWith('data: ')) events.push(siteMessage.parse(JSON.parse(part.slice(6))).event)
    }
  })().catch(() => undefined)
  return { events, stop: () => stop.abort() }
}
async function until(fits: () => boolean | Promise<boolean>): Promise<void> {
  while (!(await fits())) await new Promise(resolve => setTimeout(resolve, 15))
}
const job = (jobId: number): Promise<Job> => web.call(getJob, { jobId })

describe('a process that answers and one that works', () => {
  test('what is asked of one is done by the other, and heard where the browser is', async () => {
    const input = { siteId: site.id, marketId, seeds: ['kiln'], mostIdeas: 40, ways: ['ads' as const] }
    const { jobs } = await web.call(startGathering, input)
    expect((await job(jobs[0]!.jobId)).state).toBe('waiting')
    work = await testServer({ ROLE: 'work', CRAWL_DELAY_MS: '150' }, web.databaseUrl)
    expect((await web.finish(jobs[0]!.jobId)).state).toBe('done')
    const ended = (event: SiteEvent) =>
      event.type === 'job' && event.job.id === jobs[0]!.jobId && event.job.state === 'done'
    await until(() => stream.events.some(ended) && stream.events.some(event => event.type === 'keywords'))
  })

  test('a job that runs elsewhere is paused and goes on', async () => {
    const { crawls } = await web.call(startCrawl, {
      siteId: site.id,
      domains: ['clayharbour.example'],
      mostPages: 60,
    })
    const { jobId } = crawls[0]!
    await until(async () => (await job(jobId)).done > 2)
    await web.call(actOnJob, { jobId, action: 'pause' })
    await until(async () => (await job(jobId)).state === 'paused')
    const { done } = await job(jobId)
    expect(done).toBeLessThan(60)
    await web.call(actOnJob, { jobId, action: 'resume' })
    expect((await web.finish(jobId)).state).toBe('done')
  })

  test('files are read on a machine that never received them', async () => {
    const bring = async (file: Uploaded): Promise<Job> => {
      const run = { siteId: site.id, importId: file.importId, marketId, mapping: file.suggested }
      return web.finish((await web.call(runImport, run)).jobId)
    }
    const plain = (await web.upload(site.id, 'keywords', 'keyword,volume\nmoon jar,70\n')) as Uploaded
    expect((await bring(plain)).result).toMatchObject({ added: 1 })
    const text = (value: string) => `<c t="str"><v>${value}</v></c>`
    const book = makeXlsx(`<row r="1">${text('Keyword')}</row><row r="2">${text('tea bowl')}</row>`)
    const { body } = await web.raw(`/api/sites/${site.id}/imports?kind=keywords&fileName=words.xlsx`, {
      method: 'POST',
      body: new Uint8Array(book),
      headers: { 'content-type': 'text/csv' },
    })
    expect((await bring(body)).result).toMatchObject({ added: 1 })
    const left = await web.context.pool.query('select from upload_piece')
    expect(left.rowCount).toBe(0)
  })

  test('a limit that is set at one is kept by the other', async () => {
    await web.call(limitSource, { key: 'ads', mostADay: 7_000 })
    await until(() => work.context.sources.clients.ads.mostADay === 7_000)
    await web.call(limitSource, { key: 'ads', mostADay: null })
    await until(() => work.context.sources.clients.ads.mostADay === null)
  })

  test('a source that asks one to wait is left alone by the other', async () => {
    work.context.sources.clients.maps.shared!.onHold(30_000)
    await until(() => web.context.sources.clients.maps.use.limited === 1)
  })
})

test('a process that does all shares nothing while it is alone, and learns that it is not', async () => {
  const one = await testServer()
  expect(one.context.bus.isShared).toBe(false)
  const two = await testServer({}, one.databaseUrl)
  await until(() => one.context.bus.isShared && two.context.bus.isShared)
  await two.close()
  await one.close()
})

describe('limits that several keep together', () => {
  let pool: pg.Pool
  beforeAll(() => {
    pool = new pg.Pool({ connectionString: web.databaseUrl, max: 4 })
  })
  afterAll(() => pool.end())

  test('of requests a second no more are let out than one alone would make', async () => {
    const both = [new SharedRate(pool, 'shared', 10), new SharedRate(pool, 'shared', 10)]
    const seen: number[] = []
    await Promise.all(
      Array.from({ length: 26 }, async (_, i) => {
        expect(await both[i % 2]!.take(null)).toBe(true)
        const { rows } = await pool.query<{ requests: number }>(
          "select requests from source_second where source = 'shared'",
        )
        seen.push(rows[0]!.requests)
      }),
    )
    expect(seen).toHaveLength(26)
    expect(Math.max(...seen)).toBeLessThanOrEqual(10)
  })
  test('of requests a day exactly as many, whoever makes them', async () => {
    const both = [new SharedRate(pool, 'daily', 1_000), new SharedRate(pool, 'daily', 1_000)]
    const given = await Promise.all(Array.from({ length: 12 }, (_, i) => both[i % 2]!.take(5)))
    expect(given.filter(Boolean)).toHaveLength(5)
  })
  test('turns at a host follow each other at its delay, and it can be left alone', async () => {
    const [one, two] = [new SharedTurns(pool), new SharedTurns(pool)]
    const hour = 3_600_000
    const waits = [
      await one.take('h.example', hour),
      await two.take('h.example', hour),
      await one.take('h.example', hour),
    ]
    expect(waits.map(wait => Math.round(wait / hour))).toEqual([0, 1, 2])
    await two.leaveAlone('other.example', 2 * hour)
    expect(Math.round((await one.take('other.example', hour)) / hour)).toBe(2)
  })
})
