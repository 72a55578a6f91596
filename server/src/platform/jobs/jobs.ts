import { createHash } from 'node:crypto'
import { setTimeout as sleep } from 'node:timers/promises'
import { AppError } from '@dew-trail/contract/errors'
import type { Job, JobKind } from '@dew-trail/contract/jobs'
import PgBoss from 'pg-boss'
import type pg from 'pg'
import type { AddedJob, Context } from '../../context.ts'
import { isDiskFull } from '../db/database-errors.ts'
import { SourceError } from '../outside/source-error.ts'
import { JobControl, JobHalted } from './job-control.ts'
import {
  freeJobLock,
  insertJob,
  type JobRow,
  manyUnfinishedJobs,
  markAgain,
  markDeath,
  markHandedBack,
  markRunning,
  markState,
  maybeJob,
  resetAttempts,
  setWanted,
  toJob,
  tryJobLock,
} from './queries.ts'

/**
 * The work of a kind of job. It must be able to start again from `control.progress` or from what it already saved. Its answer is the
 * job's result. Once `control.signal` is aborted it has a few seconds to end; after that nobody waits for it.
 */
export type JobWork = (context: Context, control: JobControl) => Promise<object | null>

/** Crawls take hours and mostly wait, so they have workers of their own and never stand in the way of other work. */
const workers = { work: 3, crawl: 2 } as const
type Queue = keyof typeof workers
const queueOf = (kind: JobKind): Queue => (kind === 'crawl' ? 'crawl' : 'work')
const mostAttempts = 3
/** How often work may bring its process down, or stop moving, at one place. */
const mostDeaths = 2
/** How often jobs are looked for that are marked as running while nobody runs them. */
const sweepMs = 60_000

/** Thrown into a job whose lock went with its connection: another process could run it now. */
class LockLost extends Error {}
/** Thrown into a job that has not moved for too long. */
class JobStalled extends Error {}
/** Thrown into jobs when the server stops: they are handed back and go on at the next start. */
class ServerStops extends Error {}

/**
 * Background work. pg-boss hands jobs out and tries again with growing waits; our own table keeps what people see (progress, pause,
 * warnings, result). A job runs under a database lock that dies with the process, so after a kill a start simply hands all unfinished
 * jobs out again and none runs twice. While the database is away jobs wait for it and then begin again where they were.
 */
export class Jobs {
  readonly #boss: PgBoss
  readonly #graceMs: number
  readonly #works: Record<JobKind, JobWork>
  readonly #running = new Map<number, JobControl>()
  #context: Context | undefined
  #sweep: NodeJS.Timeout | undefined
  #stopping = false
  readonly #workerIds: Record<Queue, string[]> = { work: [], crawl: [] }

  readonly #runs: boolean
  /** Tells other processes that somebody wants a job to pause or end. */
  onWanted: (jobId: number, wanted: 'pause' | 'cancel') => void = () => undefined

  /** `graceMs`: how long work may take to end once it was told to. `runs`: whether jobs run in this process too, and not only begin here. */
  constructor(
    databaseUrl: string,
    works: Record<JobKind, JobWork>,
    onError: (error: Error) => void,
    { graceMs = 5_000, runs = true }: { graceMs?: number; runs?: boolean } = {},
  ) {
    this.#graceMs = graceMs
    this.#runs = runs
    // One that runs nothing leaves the queue's own housekeeping to those that do.
    const keeping = { schedule: runs, supervise: runs }
    this.#boss = new PgBoss({ connectionString: databaseUrl, max: 4, application_name: 'dew-trail-jobs', ...keeping })
    this.#boss.on('error', onError)
    this.#works = works
  }

  async start(context: Context): Promise<void> {
    this.#context = context
    await this.#boss.start()
    for (const queue of Object.keys(workers) as Queue[]) {
      await this.#boss.createQueue(queue)
      if (!this.#runs) continue
      for (let i = 0; i < workers[queue]; i++) {
        this.#workerIds[queue].push(
          await this.#boss.work<{ jobId: number }>(
            queue,
            { pollingIntervalSeconds: 0.5, batchSize: 1 },
            async ([item]) => {
              if (item) await this.#run(item.data.jobId)
            },
          ),
        )
      }
    }
    if (!this.#runs) return
    await this.#handOut(['waiting', 'running'])
    // What was lost with a connection is handed out again as soon as there is one.
    context.database.onBack = () => this.#handOutOrReport(['waiting', 'running'])
    this.#sweep = setInterval(() => this.#handOutOrReport(['running']), sweepMs)
  }

  /** Runs `work` each night at half past two (UTC), once however many servers share the database. Call it after `start`. */
  async everyNight(name: string, work: () => Promise<void>): Promise<void> {
    await this.#comeRound(name, '30 2 * * *', 60, work)
  }
  /** The same each minute. */
  async everyMinute(name: string, work: () => Promise<void>): Promise<void> {
    await this.#comeRound(name, '* * * * *', 15, work)
  }
  async #comeRound(name: string, cron: string, lookSeconds: number, work: () => Promise<void>): Promise<void> {
    if (!this.#runs) return
    await this.#boss.createQueue(name)
    await this.#boss.schedule(name, cron)
    await this.#boss.work(name, { pollingIntervalSeconds: lookSeconds }, work)
  }

  async add(siteId: number | null, kind: JobKind, title: string, payload: object, key?: string): Promise<AddedJob> {
    const context = this.#needContext()
    const { row, isNew } = await insertJob(context.pool, siteId, kind, title, payload, keyOf(key ?? payload))
    if (isNew) {
      await this.#send(row.id, kind)
      this.#tell(row)
    }
    return { ...toJob(row), isNew, payload: row.payload }
  }

  async act(jobId: number, action: 'pause' | 'resume' | 'cancel' | 'retry'): Promise<Job> {
    const { pool } = this.#needContext()
    const job = await maybeJob(pool, jobId)
    if (!job) throw new AppError('notFound', `There is no job ${jobId}`)
    const open = job.state === 'running' || job.state === 'waiting'
    const refuse = (): AppError => new AppError('conflict', `The job is ${job.state}, so it cannot ${action}`)
    if (action === 'pause' || action === 'cancel') {
      if (!open && !(action === 'cancel' && job.state === 'paused')) throw refuse()
      await setWanted(pool, jobId, action)
      if (this.halt(jobId, action)) this.#tell((await maybeJob(pool, jobId))!)
      else if (job.state === 'running' && (await this.#runsElsewhere(jobId))) {
        this.onWanted(jobId, action)
        this.#tell((await maybeJob(pool, jobId))!)
      } else this.#tell(await markState(pool, jobId, action === 'pause' ? 'paused' : 'cancelled'))
    } else {
      if (
        action === 'resume'
          ? job.state !== 'paused'
          : open || job.state === 'paused' || (job.state === 'done' && !Object.keys(job.warnings).length)
      )
        throw refuse()
      if (action === 'retry') await resetAttempts(pool, jobId)
      await setWanted(pool, jobId, 'run')
      this.#tell(await markAgain(pool, jobId))
      await this.#send(jobId, job.kind)
    }
    return toJob((await maybeJob(pool, jobId))!)
  }

  /** Tells a job that runs in this process to pause or end; false when it does not run here. */
  halt(jobId: number, wanted: 'pause' | 'cancel'): boolean {
    const control = this.#running.get(jobId)
    control?.abort.abort(new JobHalted(wanted))
    return control !== undefined
  }

  /** Whether another process holds a job's lock. */
  async #runsElsewhere(jobId: number): Promise<boolean> {
    const client = await this.#needContext().pool.connect()
    try {
      if (!(await tryJobLock(client, jobId))) return true
      await freeJobLock(client, jobId)
      return false
    } finally {
      client.release()
    }
  }

  async stop(): Promise<void> {
    this.#stopping = true
    clearInterval(this.#sweep)
    for (const control of this.#running.values()) control.abort.abort(new ServerStops())
    await this.#boss.stop({ graceful: true, timeout: this.#graceMs, wait: true }).catch(() => undefined)
    // What did not end in time is handed back all the same: it was stopped on purpose, which is no fault of its own.
    for (const control of this.#running.values()) {
      control.over = true
      await markHandedBack(this.#needContext().pool, control.job.id).catch(() => undefined)
    }
  }

  /** Sends all jobs in these states that do not run here; those that run elsewhere hold their lock, so nothing comes of it. */
  async #handOut(states: readonly ('waiting' | 'running')[]): Promise<void> {
    for (const { id, kind } of await manyUnfinishedJobs(this.#needContext().pool, states))
      if (!this.#running.has(id)) await this.#send(id, kind)
  }
  #handOutOrReport(states: readonly ('waiting' | 'running')[]): void {
    if (this.#stopping) return
    this.#handOut(states).catch(error => {
      const { database, log } = this.#needContext()
      if (!database.report(error)) log.error({ err: error }, 'unfinished jobs were not handed out')
    })
  }

  async #send(jobId: number, kind: JobKind): Promise<void> {
    const queue = queueOf(kind)
    await this.#boss.send(
      queue,
      { jobId },
      { retryLimit: mostAttempts, retryDelay: 1, retryBackoff: true, expireInHours: 23 },
    )
    for (const id of this.#workerIds[queue]) this.#boss.notifyWorker(id)
  }

  #tell(row: JobRow): void {
    this.#needContext().events.publish(row.siteId, { type: 'job', job: toJob(row) })
  }

  #needContext(): Context {
    if (!this.#context) throw new Error('Jobs.start has not been called')
    return this.#context
  }

  async #run(jobId: number): Promise<void> {
    const context = this.#needContext()
    // Handed out twice: it runs here already.
    if (this.#running.has(jobId) || this.#stopping) return
    const lock = await context.pool.connect().catch(error => {
      context.database.report(error)
      throw error
    })
    let lost = false
    const onLost = (error: Error): void => {
      lost = true
      context.database.report(error)
      this.#running.get(jobId)?.abort.abort(new LockLost())
    }
    lock.on('error', onLost)
    try {
      if (!(await tryJobLock(lock, jobId))) return
      await this.#runLocked(context, jobId)
    } finally {
      lock.removeListener('error', onLost)
      await this.#freeLock(lock, jobId, lost)
    }
  }

  async #freeLock(lock: pg.PoolClient, jobId: number, lost: boolean): Promise<void> {
    let broken = lost
    if (!broken)
      await freeJobLock(lock, jobId).catch(() => {
        broken = true
      })
    lock.release(broken)
  }

  async #runLocked(context: Context, jobId: number): Promise<void> {
    const { pool, log } = context
    const job = await maybeJob(pool, jobId)
    if (!job || (job.state !== 'waiting' && job.state !== 'running')) return
    // Asked for while it could not hear it, such as just before its process was killed.
    if (job.wanted !== 'run') {
      this.#tell(await markState(pool, jobId, job.wanted === 'pause' ? 'paused' : 'cancelled'))
      return
    }
    // Its lock was free while it was said to run: the process that ran it is gone.
    if (job.state === 'running' && (await markDeath(pool, jobId)) >= mostDeaths) {
      this.#tell(
        await markState(pool, jobId, 'failed', {
          error: `The server ended ${mostDeaths} times while this was at the same place, so it is not begun again by itself. What was saved is kept. See the server log; "try again" begins it once more.`,
        }),
      )
      return
    }
    const control = new JobControl(context, job)
    this.#running.set(jobId, control)
    try {
      await markRunning(pool, jobId)
      const result = await this.#watched(context, control)
      await control.save()
      this.#tell(await markState(pool, jobId, 'done', { result }))
      log.info({ jobId, kind: job.kind, done: control.done }, 'job done')
    } catch (error) {
      await this.#afterError(context, control, error)
    } finally {
      control.over = true
      this.#running.delete(jobId)
    }
  }

  /** Runs the work. Work that does not end though it was told to is left alone after a while, and one that does not move is told to end. */
  async #watched(context: Context, control: JobControl): Promise<object | null> {
    const { signal } = control
    const stallMs = context.config.JOB_STALL_MINUTES * 60_000
    const work = this.#works[control.job.kind](context, control)
    const ended = new AbortController()
    const given = (async () => {
      await new Promise<void>(resolve => {
        if (signal.aborted) resolve()
        else signal.addEventListener('abort', () => resolve(), { once: true })
        ended.signal.addEventListener('abort', () => resolve(), { once: true })
      })
      await sleep(this.#graceMs, undefined, { signal: ended.signal })
      throw signal.reason
    })()
    given.catch(() => undefined)
    const watch = setInterval(
      () => {
        if (performance.now() - control.movedMs > stallMs) control.abort.abort(new JobStalled())
      },
      Math.min(stallMs / 2, 10_000),
    )
    // Late errors of work that was left alone are nobody's.
    work.catch(() => undefined)
    try {
      return await Promise.race([work, given])
    } finally {
      clearInterval(watch)
      ended.abort()
    }
  }

  /** Puts a job whose run did not end well into the state that follows from it. Throws when the queue is to try it again. */
  async #afterError(context: Context, control: JobControl, error: unknown): Promise<void> {
    const { pool, log, database } = context
    const { job, signal } = control
    // Whatever was thrown on the way down after an abort, the abort is the cause.
    const cause = signal.aborted ? signal.reason : error
    if (cause instanceof LockLost || (!signal.aborted && database.report(error)) || cause instanceof ServerStops) {
      log.warn({ err: error, jobId: job.id, kind: job.kind }, 'job was cut off; it goes on')
      // The sweep finds it should this fail too.
      await database.whenBack()
      await control.save()
      const row = await markHandedBack(pool, job.id)
      if (row) this.#tell(row)
      this.#running.delete(job.id)
      if (!this.#stopping) await this.#send(job.id, job.kind)
      return
    }
    await control.save().catch(() => undefined)
    if (cause instanceof JobHalted) {
      this.#tell(await markState(pool, job.id, cause.wanted === 'pause' ? 'paused' : 'cancelled'))
      return
    }
    const stalled = cause instanceof JobStalled && (await markDeath(pool, job.id))
    const message = stalled
      ? `This did not move for ${context.config.JOB_STALL_MINUTES} minutes, ${stalled === 1 ? 'once' : `${stalled} times`}, and was stopped. What was saved is kept.`
      : messageOf(error)
    log.error({ err: cause, jobId: job.id, kind: job.kind }, 'job failed')
    const final = stalled
      ? stalled >= mostDeaths
      : isDiskFull(error) ||
        (error instanceof SourceError && error.lasting) ||
        error instanceof AppError ||
        job.attempts + 1 >= mostAttempts
    this.#tell(await markState(pool, job.id, final ? 'failed' : 'waiting', { error: message }))
    if (!final) throw cause
  }
}

function messageOf(error: unknown): string {
  if (error instanceof AppError || error instanceof SourceError) return error.message
  if (isDiskFull(error)) return 'There is no room left on the disk. What was saved is kept; make room and try again.'
  return 'The job met an error that it does not know; the server log has the details.'
}

/** The same for the same text or payload. */
const keyOf = (key: string | object): string =>
  createHash('sha256')
    .update(typeof key === 'string' ? key : JSON.stringify(key))
    .digest('base64url')
