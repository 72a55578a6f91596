import { setTimeout as sleep } from 'node:timers/promises'
import { keepKeywords, startGathering } from '@dew-trail/contract/gather'
import { getJob } from '@dew-trail/contract/jobs'
import type { Site } from '@dew-trail/contract/sites'
import { startWeighing } from '@dew-trail/contract/weigh'
import pg from 'pg'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { isDatabaseAway, isDiskFull } from '../src/platform/db/database-errors.ts'
import { inTransaction } from '../src/platform/db/pool.ts'
import { demoSite, type TestServer, testServer } from './test-server.ts'

let server: TestServer
let site: Site
let marketId: number
let ids: number[]
beforeAll(async () => {
  server = await testServer({ RATE_ENGINES: '12' })
  site = await demoSite(server)
  marketId = site.markets[0]!.id
  const input = { siteId: site.id, marketId, seeds: ['kiln'], mostIdeas: 60, ways: ['ads' as const] }
  await server.finish((await server.call(startGathering, input)).jobs[0]!.jobId)
  ids = (await server.rows(site.id, marketId)).rows.map(row => row.id)
  await server.call(keepKeywords, { siteId: site.id, keywordIds: ids, kept: true })
})
afterAll(() => server.close())

const admin = async (sql: string): Promise<void> => {
  const client = new pg.Client({ connectionString: server.databaseUrl })
  await client.connect()
  await client.query(sql)
  await client.end()
}
const weigh = async (from: number, to: number): Promise<number> => {
  const keywordIds = ids.slice(from, to)
  return (await server.call(startWeighing, { siteId: site.id, marketId, keywordIds, again: true })).jobId!
}
const doneSome = async (jobId: number): Promise<void> => {
  while ((await server.call(getJob, { jobId })).done < 3) await sleep(20)
}
const endAll = `select pg_terminate_backend(pid) from pg_stat_activity
  where pid <> pg_backend_pid() and datname = current_database()`

describe('a lost database', () => {
  test('connection that is in use, of a job or a transaction, ends neither the server nor the job', async () => {
    const jobId = await weigh(0, 16)
    await doneSome(jobId)
    const transaction = inTransaction(server.context.pool, async db => {
      await admin(endAll)
      await sleep(100)
      await db.query('select 1')
    })
    await expect(transaction).rejects.toSatisfy(isDatabaseAway)
    expect(await server.finish(jobId)).toMatchObject({ state: 'done', done: 16, total: 16, error: null })
    expect((await server.raw('/api/health')).status).toBe(200)
  })

  test('disk without room fails what needs it, says so, and leaves the rest running', async () => {
    await admin(
      `create function no_room() returns trigger language plpgsql as $$ begin raise exception 'could not extend file' using errcode = '53100'; end $$;
       create trigger no_room before insert or update on weighing for each row execute function no_room();
       create trigger no_room before insert on site for each row execute function no_room();`,
    )
    const job = await server.finish(await weigh(0, 4))
    expect(job).toMatchObject({ state: 'failed', error: expect.stringContaining('no room left on the disk') })
    const refused = await server.raw('/api/sites', {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ domain: 'full.example', name: 'Full' }),
    })
    expect(refused).toMatchObject({ status: 507, body: { error: { code: 'diskFull' } } })
    await admin('drop trigger no_room on weighing; drop trigger no_room on site')
    expect(await server.finish(await weigh(0, 4))).toMatchObject({ state: 'done', done: 4 })
  })

  test('little room on the disk is told before it ends, and uploads that would fill it are refused', async () => {
    const tight = await testServer({ DISK_LOW_MB: '1e9', DISK_RESERVE_MB: '1e9' }, server.databaseUrl)
    expect((await tight.raw('/api/health')).body.disk).toMatchObject({ low: true, freeMb: expect.any(Number) })
    expect(await tight.upload(site.id, 'keywords', 'keyword\nkiln\n')).toMatchObject({ error: { code: 'diskFull' } })
    await tight.close()
  })
})

describe('errors', () => {
  test('are known by their codes and messages, also from within others', () => {
    expect(isDatabaseAway(Object.assign(new Error('x'), { code: '57P01' }))).toBe(true)
    expect(isDatabaseAway(Object.assign(new Error('x'), { code: '08006' }))).toBe(true)
    expect(isDatabaseAway(new Error('Connection terminated unexpectedly'))).toBe(true)
    expect(
      isDatabaseAway(new AggregateError([Object.assign(new Error(), { code: 'ECONNREFUSED', syscall: 'connect' })])),
    ).toBe(true)
    expect(isDatabaseAway(Object.assign(new Error('x'), { code: '23505' }))).toBe(false)
    expect(isDiskFull(Object.assign(new Error('x'), { code: 'ENOSPC' }))).toBe(true)
    expect(isDiskFull(new Error('x', { cause: Object.assign(new Error(), { code: '53100' }) }))).toBe(true)
    expect(isDiskFull(Object.assign(new Error('x'), { code: 'ENOENT' }))).toBe(false)
  })
})
