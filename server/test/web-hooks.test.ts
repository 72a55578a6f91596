import { createServer, type IncomingHttpHeaders, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import {
  addWebHook,
  changeWebHook,
  listWebHooks,
  removeWebHook,
  retryDelivery,
  testWebHook,
} from '@dew-trail/contract/web-hooks'
import { createSite } from '@dew-trail/contract/sites'
import { afterAll, beforeAll, beforeEach, expect, test } from 'vitest'
import { signatureOf, waitsAfter } from '../src/domain/web-hooks/deliver.ts'
import { type TestServer, testServer } from './test-server.ts'

type Got = { headers: IncomingHttpHeaders; body: string }
let server: TestServer
let receiver: Server
let address: string
let siteId: number
let marketId: number
let got: Got[] = []
/** What the receiver answers with. */
let answer = 200

beforeAll(async () => {
  server = await testServer({ HOOKS_ALLOW_PRIVATE: '127.0.0.0/8' })
  const site = await server.call(createSite, { domain: 'kilnandtide.example', name: 'Kiln & Tide' })
  ;[siteId, marketId] = [site.id, site.markets[0]!.id]
  receiver = createServer((request, response) => {
    let body = ''
    request.on('data', chunk => (body += chunk))
    request.on('end', () => {
      got.push({ headers: request.headers, body })
      response.writeHead(answer, answer === 302 ? { location: '/elsewhere' } : {}).end('thanks')
    })
  })
  await new Promise<void>(done => receiver.listen(0, '127.0.0.1', done))
  address = `http://127.0.0.1:${(receiver.address() as AddressInfo).port}/hook`
})
afterAll(async () => {
  await server.close()
  receiver.close()
})
beforeEach(() => {
  got = []
  answer = 200
})

const send = () => server.context.hooks.sendDue(server.context.pool)
const list = () => server.call(listWebHooks, { siteId })
const endJob = async (state: 'done' | 'failed') => {
  const { rows } = await server.context.pool.query<{ id: number }>(
    `insert into job (site_id, kind, title, payload, key)
      values ($1, 'crawl', 'Crawling clayharbour.example', '{}', gen_random_uuid()) returning id`,
    [siteId],
  )
  await server.context.pool.query(
    `update job set state = $2, ended_at = now(), error = case when $2 = 'failed' then 'no answer' end where id = $1`,
    [rows[0]!.id, state],
  )
  return rows[0]!.id
}
const raiseAlert = (day: string) =>
  server.context.pool.query(
    `insert into alert (site_id, rule_id, market_id, day, title) select $1, id, $2, $3, 'Visibility fell by 4 points'
     from alert_rule where site_id = $1 and kind = 'visibility'`,
    [siteId, marketId, day],
  )

test('alerts and failed work are sent once, signed, to the hooks that asked for them', async () => {
  const { id, secret } = await server.call(addWebHook, { siteId, address, events: ['alert', 'jobFailed'] })
  const done = await server.call(addWebHook, { siteId, address: `${address}?done`, events: ['jobDone'] })
  const jobId = await endJob('failed')
  await raiseAlert('2026-11-20')
  expect(await send()).toBe(2)
  expect(await send()).toBe(0)
  const [failed, alert] = got.map(each => JSON.parse(each.body))
  expect(failed).toMatchObject({
    event: 'jobFailed',
    site: 'kilnandtide.example',
    siteId,
    data: { jobId, kind: 'crawl', state: 'failed', error: 'no answer' },
  })
  expect(alert).toMatchObject({ event: 'alert', data: { title: 'Visibility fell by 4 points', day: '2026-11-20' } })
  for (const { headers, body } of got) {
    expect(headers['dew-trail-signature']).toBe(signatureOf(secret, String(headers['dew-trail-time']), body))
    expect(headers['dew-trail-delivery']).toBe(JSON.parse(body).id)
  }
  expect(new Set(got.map(each => each.headers['dew-trail-delivery'])).size).toBe(2)
  const { hooks, deliveries } = await list()
  expect(deliveries.map(each => [each.event, each.state, each.status])).toEqual([
    ['alert', 'delivered', 200],
    ['jobFailed', 'delivered', 200],
  ])
  expect(hooks[0]!.lastGoodAt).not.toBeNull()
  expect(JSON.stringify(await list())).not.toContain(secret)
  for (const hookId of [id, done.id]) await server.call(removeWebHook, { siteId, hookId })
  expect((await list()).deliveries).toEqual([])
})

test('what fails is tried again with growing waits, then given up, and can be sent once more by hand', async () => {
  const { id: hookId } = await server.call(addWebHook, { siteId, address, events: ['jobDone'] })
  await endJob('done')
  answer = 503
  for (let i = 0; i <= waitsAfter.length; i++) {
    expect(await send()).toBe(1)
    expect(await send()).toBe(0)
    const [delivery] = (await list()).deliveries
    expect(delivery).toMatchObject({ tries: i + 1, status: 503, what: 'It answered with status 503' })
    if (i < waitsAfter.length) {
      const wait = (Date.parse(delivery!.nextTryAt!) - Date.now()) / 1_000
      expect(Math.abs(wait - waitsAfter[i]!)).toBeLessThan(30)
    } else expect(delivery).toMatchObject({ state: 'failed', nextTryAt: null })
    await server.context.pool.query("update web_hook_delivery set next_try_at = now() where state = 'waiting'")
  }
  expect((await list()).hooks[0]!.lastFailure).toMatchObject({ what: 'It answered with status 503' })
  answer = 302
  const deliveryId = (await list()).deliveries[0]!.id
  await server.call(retryDelivery, { siteId, hookId, deliveryId })
  got = []
  await send()
  expect(got).toHaveLength(1)
  expect((await list()).deliveries[0]).toMatchObject({ state: 'waiting', what: 'It answered with status 302' })
  answer = 204
  await server.context.pool.query('update web_hook_delivery set next_try_at = now()')
  await send()
  expect((await list()).deliveries[0]).toMatchObject({ state: 'delivered', status: 204, what: null })
  await expect(server.call(retryDelivery, { siteId, hookId, deliveryId })).rejects.toMatchObject({ code: 'notFound' })
  await server.call(removeWebHook, { siteId, hookId })
})

test('a paused hook is told nothing of what happens meanwhile; a test tells at once', async () => {
  const { id: hookId } = await server.call(addWebHook, { siteId, address, events: ['jobDone'] })
  expect(await server.call(testWebHook, { siteId, hookId })).toEqual({ delivered: true, status: 200, what: null })
  expect(JSON.parse(got[0]!.body)).toMatchObject({ event: 'test', data: {} })
  const { version } = await server.call(changeWebHook, { siteId, hookId, version: 1, active: false })
  await endJob('done')
  expect(await send()).toBe(0)
  await expect(server.call(changeWebHook, { siteId, hookId, version: 1, active: true })).rejects.toMatchObject({
    code: 'conflict',
  })
  await server.call(changeWebHook, { siteId, hookId, version, active: true })
  expect(await send()).toBe(0)
  await server.call(removeWebHook, { siteId, hookId })
})

test('nothing is sent to inside addresses unless the configuration allows it', async () => {
  const strict = await testServer()
  const { id: strictSite } = await strict.call(createSite, { domain: 'kilnandtide.example', name: 'Kiln & Tide' })
  for (const inside of [
    address,
    'http://localhost:1/',
    'http://[::1]/',
    'http://169.254.169.254/latest',
    'http://10.0.0.1/',
  ]) {
    const { id: hookId } = await strict.call(addWebHook, { siteId: strictSite, address: inside, events: ['alert'] })
    const { delivered, what } = await strict.call(testWebHook, { siteId: strictSite, hookId })
    expect([inside, delivered]).toEqual([inside, false])
    expect(what).toMatch(/not a public address|inner network/)
  }
  expect(got).toEqual([])
  for (const bad of ['ftp://kilnandtide.example/', 'javascript:alert(1)', 'nowhere'])
    await expect(
      strict.call(addWebHook, { siteId: strictSite, address: bad, events: ['alert'] }),
    ).rejects.toMatchObject({
      code: 'badInput',
    })
  await strict.close()
})
