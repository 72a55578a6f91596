import { setTimeout as sleep } from 'node:timers/promises'
import { startGathering } from '@dew-trail/contract/gather'
import { getJob } from '@dew-trail/contract/jobs'
import { createSite, type Site } from '@dew-trail/contract/sites'
import { startWeighing } from '@dew-trail/contract/weigh'
import { openBrowser } from '@dew-trail/scripts/lib/browser'
import { callServer, finishJob, keywordRows } from '@dew-trail/scripts/lib/client'
import { startPostgres } from '@dew-trail/scripts/lib/postgres'
import { type Stack, startStack } from '@dew-trail/scripts/lib/stack'
import type { Page } from 'puppeteer-core'
import { afterAll, beforeAll, expect, test } from 'vitest'

let stack: Stack
let browser: Awaited<ReturnType<typeof openBrowser>>
let page: Page
let site: Site
let marketId: number
beforeAll(async () => {
  stack = await startStack({ size: 0.3, today: '2026-11-20', env: { RATE_ENGINES: '10' } })
  site = await callServer(stack.server, createSite, { domain: 'kilnandtide.example', name: 'Kiln & Tide' })
  marketId = site.markets[0]!.id
  const input = { siteId: site.id, marketId, seeds: ['kiln'], mostIdeas: 60, ways: ['ads' as const] }
  await finishJob(stack.server, (await callServer(stack.server, startGathering, input)).jobs[0]!.jobId)
  browser = await openBrowser()
  page = await browser.browser.newPage()
  await page.setViewport({ width: 1280, height: 800 })
  await page.goto(`${stack.server}/${site.id}/gather`)
  await page.waitForSelector('.sheet-row')
})
afterAll(async () => {
  await browser?.close()
  await stack?.close()
})

const health = async (): Promise<number> => (await fetch(`${stack.server}/api/health`)).status
const create = () =>
  fetch(`${stack.server}/api/sites`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ domain: 'lost.example', name: 'Lost' }),
  })
const banner = () => page.evaluate(() => document.querySelector('.health')?.textContent ?? null)

test('a database that goes away is waited for: everything says so, nothing is lost, and work goes on when it is back', async () => {
  const keywordIds = (await keywordRows(stack.server, site.id, marketId)).slice(0, 24).map(row => row.id)
  const { jobId } = await callServer(stack.server, startWeighing, { siteId: site.id, marketId, keywordIds })
  while ((await callServer(stack.server, getJob, { jobId: jobId! })).done < 3) await sleep(20)
  await stack.postgres.stop()
  while ((await health()) === 200) await sleep(20)
  const refused = await create()
  expect(refused.status).toBe(503)
  expect(await refused.json()).toMatchObject({ error: { code: 'databaseAway' } })
  // The page asks how the server is when it is looked at.
  await page.evaluate(() => window.dispatchEvent(new Event('visibilitychange')))
  while (!(await banner())?.includes('has not answered since')) await sleep(100)
  const { port } = stack.postgres
  stack.postgres = await startPostgres({ ...stack.postgresAt, port })
  while ((await health()) !== 200) await sleep(50)
  expect(await finishJob(stack.server, jobId!)).toMatchObject({ state: 'done', done: 24, total: 24, error: null })
  expect((await create()).status).toBe(200)
  while (await banner()) await sleep(100)
})
