import { AppError } from '@dew-trail/contract/errors'
import type { Job, JobKind } from '@dew-trail/contract/jobs'
import PgBoss from 'pg-boss'
import type { Context } from '../context.ts'
import { SourceError } from '../sources/source-error.ts'
import { JobControl, JobHalted } from './job-control.ts'
import {
  freeJobLock,
  insertJob,
  type JobRow,
  manyUnfinishedJobs,
  markRunning,
  markState,
  maybeJob,
  resetAttempts,
  setWanted,
  toJob,
  tryJobLock,
} from './queries.ts'

/** The work of a kind of job. It must be able to start again from `control.progress` or from what it already saved. Its answer is the job's result. */
export type JobWork = (context: Context, control: JobControl) => Promise<object | null>

/** Crawls take hours and mostly wait, so they have workers of their own and never stand in the way of other work. */
const workers = { work: 3, crawl: 2 } as const
type Queue = keyof typeof workers
const queueOf = (kind: JobKind): Queue => (kind === 'crawl' ? 'crawl' : 'work')
const mostAttempts = 3

/**
 * Background work. pg-boss hands jobs out and tries again with growing waits; our own table keeps what people see (progress, pause,
 * trouble, result). A job runs under a database lock that dies with the process, so after a kill a start simply hands all unfinished
 * jobs out again and none runs twice.
 */
export class Jobs {
  readonly #boss: PgBoss
  readonly #works: Record<JobKind, JobWork>
  readonly #running = new Map<number, JobControl>()
  #context: Context | undefined
  readonly #workerIds: Record<Queue, string[]> = { work: [], crawl: [] }

  constructor(databaseUrl: string, works: Record<JobKind, JobWork>, onError: (error: Error) => void) {
    this.#boss = new PgBoss({ connectionString: databaseUrl, max: 4, application_name: 'dew-trail-jobs' })
    this.#boss.on('error', onError)
    this.#works = works
  }

  async start(context: Context): Promise<void> {
    this.#context = context
    await this.#boss.start()
    for (const queue of Object.keys(workers) as Queue[]) {
      await this.#boss.createQueue(queue)
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
    for (const { id, kind } of await manyUnfinishedJobs(context.pool)) await this.#send(id, kind)
  }

  /** Runs `work` each night at half past two (UTC), once however many servers share the database. Call it after `start`. */
  async everyNight(name: string, work: () => Promise<void>): Promise<void> {
    await this.#boss.createQueue(name)
    await this.#boss.schedule(name, '30 2 * * *')
    await this.#boss.work(name, { pollingIntervalSeconds: 60 }, work)
  }

  async add(siteId: number, kind: JobKind, title: string, payload: object): Promise<Job> {
    const context = this.#needContext()
    const row = await insertJob(context.pool, siteId, kind, title, payload)
    await this.#send(row.id, kind)
    this.#tell(row)
    return toJob(row)
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
      const control = this.#running.get(jobId)
      if (control) control.abort.abort(new JobHalted(action))
      else this.#tell(await markState(pool, jobId, action === 'pause' ? 'paused' : 'cancelled'))
    } else {
      if (
        action === 'resume'
          ? job.state !== 'paused'
          : open || (job.state === 'done' && !Object.keys(job.trouble).length)
      )
        throw refuse()
      if (action === 'retry') await resetAttempts(pool, jobId)
      await setWanted(pool, jobId, 'run')
      this.#tell(await markState(pool, jobId, 'waiting'))
      await this.#send(jobId, job.kind)
    }
    return toJob((await maybeJob(pool, jobId))!)
  }

  async stop(): Promise<void> {
    for (const control of this.#running.values()) control.abort.abort(new Error('the server stops'))
    await this.#boss.stop({ graceful: true, timeout: 3_000, wait: true })
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
    const lock = await context.pool.connect()
    try {
      if (!(await tryJobLock(lock, jobId))) return
      try {
        await this.#runLocked(context, jobId)
      } finally {
        await freeJobLock(lock, jobId)
      }
    } finally {
      lock.release()
    }
  }

  async #runLocked(context: Context, jobId: number): Promise<void> {
    const { pool, log } = context
    const job = await maybeJob(pool, jobId)
    if (!job || (job.state !== 'waiting' && job.state !== 'running')) return
    const control = new JobControl(context, job)
    this.#running.set(jobId, control)
    try {
      await markRunning(pool, jobId)
      const result = await this.#works[job.kind](context, control)
      await control.save()
      this.#tell(await markState(pool, jobId, 'done', { result }))
      log.info({ jobId, kind: job.kind, done: control.done }, 'job done')
    } catch (error) {
      await control.save().catch(() => undefined)
      // Whatever was thrown on the way down after an abort, the abort is the cause.
      const cause = control.signal.aborted ? control.signal.reason : error
      if (cause instanceof JobHalted) {
        this.#tell(await markState(pool, jobId, cause.wanted === 'pause' ? 'paused' : 'cancelled'))
        return
      }
      if (control.signal.aborted) return
      const message =
        error instanceof AppError || error instanceof SourceError
          ? error.message
          : 'The job met an error that it does not know; the server log has the details.'
      log.error({ err: error, jobId, kind: job.kind }, 'job failed')
      const final =
        (error instanceof SourceError && error.lasting) || error instanceof AppError || job.attempts + 1 >= mostAttempts
      this.#tell(await markState(pool, jobId, final ? 'failed' : 'waiting', { error: message }))
      if (!final) throw error
    } finally {
      this.#running.delete(jobId)
    }
  }
}
