import { readFileSync } from 'node:fs'
import { join } from 'node:path'
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
const away = 'has not answered since'

/** Waits for what is named; when it does not come within a minute, says so with the end of the server's log. */
async function until(what: string, isSo: () => Promise<boolean>): Promise<void> {
  for (let tries = 0; !(await isSo()); tries++) {
    if (tries > 1_200)
      throw new Error(
        `${what}, which did not come. ${readFileSync(join(stack.folder, 'server.log'), 'utf8').slice(-3_000)}`,
      )
    await sleep(50)
  }
}

test('a database that goes away is waited for: everything says so, nothing is lost, and work goes on when it is back', async () => {
  const keywordIds = (await keywordRows(stack.server, site.id, marketId)).slice(0, 24).map(row => row.id)
  const { jobId } = await callServer(stack.server, startWeighing, { siteId: site.id, marketId, keywordIds })
  const job = () => callServer(stack.server, getJob, { jobId: jobId! })
  await until('Three keywords were to be weighed', async () => (await job()).done >= 3)
  await stack.postgres.stop()
  await until('The server was to say that its database is away', async () => (await health()) !== 200)
  const refused = await create()
  expect(refused.status).toBe(503)
  expect(await refused.json()).toMatchObject({ error: { code: 'databaseAway' } })
  // The page asks how the server is when it is looked at, and by itself every quarter of a minute.
  await page.evaluate(() => window.dispatchEvent(new Event('visibilitychange')))
  await until('The page was to say that the database is away', async () => !!(await banner())?.includes(away))
  const { port } = stack.postgres
  stack.postgres = await startPostgres({ ...stack.postgresAt, port })
  await until('The server was to find its database again', async () => (await health()) === 200)
  await until('The job was to go on to its end', async () => !['waiting', 'running'].includes((await job()).state))
  expect(await job()).toMatchObject({ state: 'done', done: 24, total: 24, error: null })
  expect((await create()).status).toBe(200)
  await until('The page was to say no more of it', async () => !(await banner())?.includes(away))
})
