import { spawn } from 'node:child_process'
import { fileURLToPath } from 'node:url'
import { keepKeywords, startGathering } from '@dew-trail/contract/gather'
import { actOnJob, getJob } from '@dew-trail/contract/jobs'
import type { Site } from '@dew-trail/contract/sites'
import { startWeighing } from '@dew-trail/contract/weigh'
import { afterAll, beforeAll, describe, expect, inject, test } from 'vitest'
import { demoSite, type TestServer, testServer } from './test-server.ts'

let server: TestServer
let site: Site
let marketId: number
let ids: number[]
// Slow enough that a job can be met while it runs: eight result pages a second.
const slow = { RATE_ENGINES: '8' }
beforeAll(async () => {
  server = await testServer(slow)
  site = await demoSite(server)
  marketId = site.markets[0]!.id
  const { jobs } = await server.call(startGathering, {
    siteId: site.id,
    marketId,
    seeds: ['kiln'],
    mostIdeas: 60,
    ways: ['ads'],
  })
  await server.finish(jobs[0]!.jobId)
  ids = (await server.rows(site.id, marketId)).rows.map(row => row.id)
  await server.call(keepKeywords, { siteId: site.id, keywordIds: ids, kept: true })
})
afterAll(() => server.close())

const until = async (
  jobId: number,
  test_: (job: { state: string; done: number; endedAt: string | null }) => boolean,
) => {
  for (;;) {
    const job = await server.call(getJob, { jobId })
    if (test_(job)) return job
    await new Promise(resolve => setTimeout(resolve, 20))
  }
}
const weighed = async () => (await server.rows(site.id, marketId)).rows.filter(row => row.weighState === 'known').length

describe('a job', () => {
  test('pauses with what it did kept, resumes where it was, and tells progress and time left', async () => {
    const { jobId } = await server.call(startWeighing, {
      siteId: site.id,
      marketId,
      keywordIds: ids.slice(0, 20),
      again: true,
    })
    const running = await until(jobId!, job => job.done >= 3)
    expect(running).toMatchObject({ state: 'running' })
    await server.call(actOnJob, { jobId: jobId!, action: 'pause' })
    const paused = await until(jobId!, job => job.state === 'paused')
    const kept = await weighed()
    expect(kept).toBeGreaterThan(0)
    expect(kept).toBeLessThan(20)
    expect(paused.endedAt).toBeNull()
    await server.call(actOnJob, { jobId: jobId!, action: 'resume' })
    const done = await server.finish(jobId!)
    expect(done).toMatchObject({ state: 'done', done: 20, total: 20 })
    expect(done.result!.weighed).toBeLessThan(20)
    expect(await weighed()).toBe(20)
  })

  test('is cancelled with what it did kept', async () => {
    const before = await weighed()
    const { jobId } = await server.call(startWeighing, { siteId: site.id, marketId, keywordIds: ids.slice(20, 40) })
    await until(jobId!, job => job.done >= 2)
    await server.call(actOnJob, { jobId: jobId!, action: 'cancel' })
    await until(jobId!, job => job.state === 'cancelled')
    expect(await weighed()).toBeGreaterThan(before)
    await expect(server.call(actOnJob, { jobId: jobId!, action: 'resume' })).rejects.toMatchObject({ code: 'conflict' })
  })

  test('goes on after the process was killed, without doing again what was done', async () => {
    const child = spawn(
      process.execPath,
      ['--import', 'tsx', fileURLToPath(new URL('../src/main.ts', import.meta.url))],
      {
        env: {
          ...process.env,
          DATABASE_URL: server.databaseUrl,
          PORT: '0',
          SOURCE_URL: inject('source'),
          RATE_FEEDS: '5000',
          ...slow,
        },
        stdio: ['ignore', 'pipe', 'inherit'],
      },
    )
    const url = await new Promise<string>(resolve => {
      child.stdout.on('data', chunk => {
        const hit = /"url":"([^"]+)"/.exec(String(chunk))
        if (hit) resolve(hit[1]!)
      })
    })
    // Our own server is closed, so that the child alone runs jobs.
    await server.close()
    const start = await fetch(`${url}/api/sites/${site.id}/weighings`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ marketId, keywordIds: ids.slice(0, 24), again: true }),
    })
    const { jobId } = (await start.json()) as { jobId: number }
    let done = 0
    while (done < 5) {
      done = ((await (await fetch(`${url}/api/jobs/${jobId}`)).json()) as { done: number }).done
      await new Promise(resolve => setTimeout(resolve, 20))
    }
    child.kill('SIGKILL')
    await new Promise(resolve => child.on('exit', resolve))
    server = await testServer(slow, server.databaseUrl)
    const finished = await server.finish(jobId)
    expect(finished).toMatchObject({ state: 'done', done: 24, total: 24 })
    expect(finished.result!.weighed).toBeLessThanOrEqual(24 - 5)
  })
})
