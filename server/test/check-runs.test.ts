import { checkAgain, listCheckFailures, listCheckRuns } from '@dew-trail/contract/check-runs'
import { keepPhrases } from '@dew-trail/contract/gather'
import { listJobs } from '@dew-trail/contract/jobs'
import { setCheckSchedule } from '@dew-trail/contract/schedules'
import type { Site } from '@dew-trail/contract/sites'
import { checkNow, listPositions, trackKeywords } from '@dew-trail/contract/track'
import { createServer, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import { afterAll, beforeAll, expect, inject, test } from 'vitest'
import { scheduleWorks } from '../src/features.ts'
import { runDue } from '../src/domain/schedules/run-due.ts'
import { askAgainForFailed, dropOldRuns } from '../src/features/track/check-runs.ts'
import { demoSite, type TestServer, testServer } from './test-server.ts'

let proxy: Server
let server: TestServer
let site: Site
/** Phrases that the engines do not answer, whoever asks. */
const refused = new Set<string>()
const phrases = ['kick wheel', 'raku kiln', 'banding wheel']
beforeAll(async () => {
  // What stands before the engines fails for some phrases.
  proxy = createServer((request, response) => {
    const url = new URL(request.url!, 'http://engines')
    if (refused.has(url.searchParams.get('q') ?? '')) {
      response.writeHead(500, { 'content-type': 'application/json' }).end('{"error":{"message":"out of order"}}')
      return
    }
    const parts: Buffer[] = []
    request.on('data', part => parts.push(part as Buffer))
    request.on('end', async () => {
      const answer = await fetch(inject('source') + request.url!, {
        method: request.method!,
        headers: { authorization: 'Bearer demo-key', 'content-type': 'application/json' },
        ...(parts.length ? { body: Buffer.concat(parts) } : {}),
      })
      response.writeHead(answer.status, { 'content-type': answer.headers.get('content-type')! })
      response.end(Buffer.from(await answer.arrayBuffer()))
    })
  })
  await new Promise<void>(done => void proxy.listen(0, '127.0.0.1', done))
  const address = `http://127.0.0.1:${(proxy.address() as AddressInfo).port}`
  server = await testServer({ SOURCE_URL: address, SOURCE_TRIES: '1' })
  site = await demoSite(server)
  await server.call(keepPhrases, { siteId: site.id, marketId: site.markets[0]!.id, phrases })
  const { rows } = await server.rows(site.id, site.markets[0]!.id)
  await server.call(trackKeywords, { siteId: site.id, keywordIds: rows.map(row => row.id), tracked: true })
})
afterAll(async () => {
  await server.close()
  proxy.close()
})

const runs = () => server.call(listCheckRuns, { siteId: site.id })
const failures = (checkRunId: number) => server.call(listCheckFailures, { siteId: site.id, checkRunId })
const checkJobs = async () => (await server.call(listJobs, { siteId: site.id })).filter(job => job.kind === 'check')
const finishAll = async () => {
  for (const job of await checkJobs()) await server.finish(job.id)
}
const nowOf = async (phrase: string, marketId = site.markets[0]!.id) =>
  (await server.call(listPositions, { siteId: site.id, marketId, compareDays: 7 })).rows.find(
    row => row.phrase === phrase,
  )!.now
const markets = () => site.markets.filter(market => market.language === 'en').length
/** As if the last try had been some hours ago. */
const wait = (hours: number) =>
  server.context.pool.query('update check_failure set last_at = last_at - make_interval(hours => $1)', [hours])

test('a check is kept with what it could not ask, which is not checked and never "not found"', async () => {
  refused.add('raku kiln')
  const { jobId, requests } = await server.call(checkNow, { siteId: site.id })
  expect(requests).toBe(3 * markets())
  expect(await server.finish(jobId)).toMatchObject({ state: 'done', result: { failed: markets() } })
  const [run] = await runs()
  expect(run).toMatchObject({
    marketId: null,
    scheduled: false,
    late: false,
    requested: 3 * markets(),
    checked: 2 * markets(),
    failed: markets(),
    checkedLater: 0,
  })
  expect(run!.endedAt).not.toBeNull()
  const list = await failures(run!.id)
  expect(list).toHaveLength(markets())
  expect(list[0]).toMatchObject({ phrase: 'raku kiln', tries: 1, checkedAt: null })
  expect(list[0]!.what).toContain('status 500')
  expect(await nowOf('raku kiln')).toBe(0)
  expect(await nowOf('kick wheel')).not.toBe(0)
})

test('what failed is asked again by itself some hours later, counted with its run, and no more once it is checked', async () => {
  expect(await askAgainForFailed(server.context)).toBe(0)
  await wait(3)
  expect(await askAgainForFailed(server.context)).toBe(1)
  await finishAll()
  const [run] = await runs()
  expect((await failures(run!.id))[0]).toMatchObject({ tries: 2, checkedAt: null })
  // One job more, and no run of its own.
  expect(await runs()).toHaveLength(1)
  refused.clear()
  await wait(3)
  expect(await askAgainForFailed(server.context)).toBe(1)
  await finishAll()
  expect((await runs())[0]).toMatchObject({ checked: 3 * markets(), failed: 0, checkedLater: markets() })
  expect((await failures(run!.id)).every(each => each.checkedAt !== null)).toBe(true)
  expect(await nowOf('raku kiln')).not.toBe(0)
  await wait(3)
  expect(await askAgainForFailed(server.context)).toBe(0)
  await expect(server.call(checkAgain, { siteId: site.id, checkRunId: run!.id })).rejects.toMatchObject({ status: 409 })
})

test('after four tries it is left, and can still be asked for by hand', async () => {
  refused.add('kick wheel')
  await server.finish((await server.call(checkNow, { siteId: site.id })).jobId)
  for (let tries = 2; tries <= 4; tries++) {
    await wait(3)
    expect(await askAgainForFailed(server.context)).toBe(1)
    await finishAll()
  }
  await wait(3)
  expect(await askAgainForFailed(server.context)).toBe(0)
  const [run] = await runs()
  expect((await failures(run!.id))[0]).toMatchObject({ tries: 4 })
  refused.clear()
  await server.finish((await server.call(checkAgain, { siteId: site.id, checkRunId: run!.id })).jobId)
  expect((await runs())[0]).toMatchObject({ failed: 0, checkedLater: markets() })
})

test('a run by its schedule names its market and says when it was late; old ones go', async () => {
  const marketId = site.markets[1]!.id
  await server.call(setCheckSchedule, { siteId: site.id, marketId, rhythm: { every: 'day', hour: 6 } })
  await server.context.pool.query("update schedule set next_at = '2027-01-10T06:00Z'")
  expect(await runDue(server.context, scheduleWorks(), new Date('2027-01-10T09:00:00Z'))).toBe(1)
  await finishAll()
  expect((await runs())[0]).toMatchObject({ marketId, scheduled: true, late: true, requested: 3, checked: 3 })
  await server.context.pool.query(`update check_run set began_at = now() - interval '401 days' where scheduled`)
  await dropOldRuns(server.context)
  expect((await runs()).some(run => run.scheduled)).toBe(false)
})
