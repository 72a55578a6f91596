import { randomUUID } from 'node:crypto'
import { setTimeout as sleep } from 'node:timers/promises'
import { type JobKind, jobKinds } from '@dew-trail/contract/jobs'
import pg from 'pg'
import { pino } from 'pino'
import { afterEach, beforeEach, describe, expect, inject, test } from 'vitest'
import type { Context } from '../src/context.ts'
import { DatabaseWatch } from '../src/platform/db/database-watch.ts'
import { makeSchema } from '../src/platform/db/make-schema.ts'
import { openPool } from '../src/platform/db/pool.ts'
import { Events } from '../src/platform/http/events.ts'
import { Jobs, type JobWork } from '../src/platform/jobs/jobs.ts'
import { type JobRow, maybeJob } from '../src/platform/jobs/queries.ts'

/** Jobs of our own making on a database of their own: `work` is what every kind of job does. */
let database: string
let pool: pg.Pool
let siteId: number
let open: Jobs[]
const graceMs = 300
const log = pino({ level: 'silent' })

beforeEach(async () => {
  const admin = new pg.Client({ connectionString: inject('postgres') })
  await admin.connect()
  database = inject('postgres').replace(/\/postgres$/, `/t_${randomUUID().replaceAll('-', '')}`)
  await admin.query(`create database ${database.split('/').at(-1)}`)
  await admin.end()
  pool = openPool(database)
  await makeSchema(pool)
  const { rows } = await pool.query<{ id: number }>(
    `insert into site (domain, name) values ('x.example', 'x') returning id`,
  )
  siteId = rows[0]!.id
  open = []
})
afterEach(async () => {
  for (const jobs of open) await jobs.stop()
  await pool.end()
})

async function begin(work: JobWork, stallMinutes = 60): Promise<Jobs> {
  const works = Object.fromEntries(jobKinds.map(kind => [kind, work])) as Record<JobKind, JobWork>
  const jobs = new Jobs(database, works, () => undefined, { graceMs })
  const watch = new DatabaseWatch(database, log)
  const config = { JOB_STALL_MINUTES: stallMinutes }
  const context = { pool, database: watch, log, events: new Events(1), config, jobs } as unknown as Context
  await jobs.start(context)
  open.push(jobs)
  return jobs
}
async function until(id: number, fits: (job: JobRow) => boolean): Promise<JobRow> {
  for (;;) {
    const job = (await maybeJob(pool, id))!
    if (fits(job)) return job
    await sleep(20)
  }
}
/** A job as a process that was killed in the middle of it leaves it. */
async function leftRunning(more: { wanted?: string; done?: number; deaths?: number; furthest?: number } = {}) {
  const { wanted = 'run', done = 7, deaths = 0, furthest = -1 } = more
  const { rows } = await pool.query<{ id: number }>(
    `insert into job (site_id, kind, title, payload, state, wanted, done, deaths, furthest, attempts)
      values ($1, 'weigh', 'w', '{}', 'running', $2, $3, $4, $5, 1) returning id`,
    [siteId, wanted, done, deaths, furthest],
  )
  return rows[0]!.id
}

describe('a job whose process died', () => {
  test('is not run again when it was to be cancelled, and pauses when it was to pause', async () => {
    const cancelled = await leftRunning({ wanted: 'cancel' })
    const paused = await leftRunning({ wanted: 'pause' })
    let runs = 0
    await begin(async () => {
      runs++
      return null
    })
    expect(await until(cancelled, job => job.state !== 'running')).toMatchObject({ state: 'cancelled' })
    expect(await until(paused, job => job.state !== 'running')).toMatchObject({ state: 'paused' })
    expect(runs).toBe(0)
  })

  test('goes on once, and is failed with a reason when it dies at the same place again', async () => {
    const once = await leftRunning()
    const twice = await leftRunning({ deaths: 1, furthest: 7 })
    await begin(async () => null)
    expect(await until(once, job => job.endedAt !== null)).toMatchObject({ state: 'done', deaths: 1, furthest: 7 })
    const failed = await until(twice, job => job.endedAt !== null)
    expect(failed).toMatchObject({ state: 'failed', error: expect.stringContaining('ended 2 times') })
  })

  test('goes on however often it dies, as long as it gets further', async () => {
    const id = await leftRunning({ deaths: 1, furthest: 6 })
    await begin(async () => null)
    expect(await until(id, job => job.endedAt !== null)).toMatchObject({ state: 'done', deaths: 1 })
  })

  test('begins anew when somebody asks for it', async () => {
    const id = await leftRunning({ deaths: 1, furthest: 7 })
    const jobs = await begin(async () => null)
    await until(id, job => job.state === 'failed')
    await jobs.act(id, 'retry')
    expect(await until(id, job => job.endedAt !== null && job.state !== 'failed')).toMatchObject({
      state: 'done',
      deaths: 0,
    })
  })
})

const deaf: JobWork = () => new Promise(() => undefined)

describe('work that does not end by itself', () => {
  test('is left alone a few seconds after it was cancelled, and says meanwhile that it is stopping', async () => {
    const jobs = await begin(deaf)
    const { id } = await jobs.add(siteId, 'weigh', 'w', {})
    await until(id, job => job.state === 'running')
    expect(await jobs.act(id, 'cancel')).toMatchObject({ state: 'running', stopping: true })
    expect(await until(id, job => job.endedAt !== null)).toMatchObject({ state: 'cancelled' })
  })

  test('is stopped when it does not move, tried once more, and then failed with a reason', async () => {
    const jobs = await begin(deaf, 1 / 600)
    const { id } = await jobs.add(siteId, 'weigh', 'w', {})
    const failed = await until(id, job => job.state === 'failed')
    expect(failed).toMatchObject({ deaths: 2, error: expect.stringContaining('did not move') })
  })

  test('may not save any more once nobody waits for it', async () => {
    let late: Promise<unknown> | undefined
    const jobs = await begin(async (_context, control) => {
      await new Promise(resolve => control.signal.addEventListener('abort', resolve))
      await sleep(2 * graceMs)
      late = control.step(99, 99).catch(error => error)
      await late
      return null
    })
    const { id } = await jobs.add(siteId, 'weigh', 'w', {})
    await until(id, job => job.state === 'running')
    await sleep(50)
    await jobs.act(id, 'cancel')
    await until(id, job => job.state === 'cancelled')
    while (!late) await sleep(20)
    expect(await late).toBeInstanceOf(Error)
    expect((await maybeJob(pool, id))!.done).toBe(0)
  })
})

describe('a server that stops', () => {
  test('hands all its work back, also what does not end by itself, and counts no death', async () => {
    const jobs = await begin(deaf)
    const { id } = await jobs.add(siteId, 'weigh', 'w', {})
    await until(id, job => job.state === 'running')
    await jobs.stop()
    expect(await maybeJob(pool, id)).toMatchObject({ state: 'waiting', deaths: 0, attempts: 0 })
    await begin(async () => null)
    expect(await until(id, job => job.endedAt !== null)).toMatchObject({ state: 'done', deaths: 0 })
  })
})

describe('the same work asked for twice', () => {
  test('is one job while it is open, and another once it has ended', async () => {
    const ends: Array<() => void> = []
    const jobs = await begin(async () => {
      await new Promise<void>(resolve => {
        ends.push(resolve)
      })
      return null
    })
    const [first, second] = await Promise.all([
      jobs.add(siteId, 'check', 'c', { of: 1 }),
      jobs.add(siteId, 'check', 'c', { of: 1 }),
    ])
    expect(second.id).toBe(first.id)
    expect([first.isNew, second.isNew].sort()).toEqual([false, true])
    expect((await jobs.add(siteId, 'check', 'c', { of: 2 })).id).not.toBe(first.id)
    while (ends.length < 2) await sleep(20)
    for (const end of ends) end()
    await until(first.id, job => job.endedAt !== null)
    expect((await jobs.add(siteId, 'check', 'c', { of: 1 })).id).not.toBe(first.id)
  })
})
