import { mkdir } from 'node:fs/promises'
import type { AddressInfo } from 'node:net'
import { createServer, type Server } from 'node:http'
import { setTimeout as sleep } from 'node:timers/promises'
import type pg from 'pg'
import { type Logger, pino } from 'pino'
import { makeApp } from './app.ts'
import type { Config } from './platform/config.ts'
import type { Context } from './context.ts'
import { Crawler } from './domain/pages/crawler.ts'
import { People } from './domain/people/sign-in-state.ts'
import { isDatabaseAway } from './platform/db/database-errors.ts'
import { DatabaseWatch } from './platform/db/database-watch.ts'
import { makeSchema, oneStartAtATime } from './platform/db/make-schema.ts'
import { PrimaryForwarder } from './platform/db/primary-forwarder.ts'
import { ReadPools } from './platform/db/read-pools.ts'
import { openPool } from './platform/db/pool.ts'
import { Secrets } from './platform/secrets.ts'
import { HookSender } from './domain/web-hooks/deliver.ts'
import { DiskSpace } from './platform/disk-space.ts'
import { jobWorks, minutelyWorks, nightlyWorks, scheduleWorks } from './features.ts'
import { Events } from './platform/http/events.ts'
import { removeLeftUploads } from './domain/imports/uploads.ts'
import { Jobs } from './platform/jobs/jobs.ts'
import { maybeJob, toJob } from './platform/jobs/queries.ts'
import { Bus, type BusMessage } from './platform/cluster/bus.ts'
import { runDue } from './domain/schedules/run-due.ts'
import { Sources } from './sources/sources.ts'

/** A process that is asked to stop hands its jobs back within this; longer than any of them needs to come to a place where it can. */
const drainMs = 20_000

export type RunningServer = { context: Context; url: string; close(): Promise<void> }

/** Migrates, takes up unfinished jobs, listens. Everything it opened is closed by `close`. */
export async function startServer(
  given: Config,
  log: Logger = pino({ level: given.LOG_LEVEL }),
): Promise<RunningServer> {
  const forwarder = await PrimaryForwarder.open(given.DATABASE_URL, log)
  const config = forwarder ? { ...given, DATABASE_URL: forwarder.address } : given
  const database = new DatabaseWatch(config.DATABASE_URL, log)
  const primary = openPool(config.DATABASE_URL, 14, {}, error => {
    log.warn({ err: error }, 'a database connection was lost')
    database.report(error)
  })
  await schemaWhenThere(primary, database, log)
  const reads = config.DATABASE_READ_URLS.length ? new ReadPools(primary, config.DATABASE_READ_URLS, log) : null
  const pool = reads?.pool ?? primary
  const disk = new DiskSpace(config.DATA_DIR, {
    lowBytes: config.DISK_LOW_MB * 1e6,
    reserveBytes: config.DISK_RESERVE_MB * 1e6,
  })
  await mkdir(config.DATA_DIR, { recursive: true })
  await disk.look()
  await removeLeftUploads(config, pool)
  const events = new Events(config.EVENT_STREAMS)
  if (reads) events.settle = () => reads.noteWritten()
  const secrets = await Secrets.open(config.DATA_DIR)
  const sources = new Sources(config, pool, log, secrets)
  const hooks = new HookSender(config, secrets)
  await sources.open()
  const bus = new Bus(config.DATABASE_URL, pool, log, config.ROLE !== 'all')
  const crawler = new Crawler(config, pool, bus)
  const people = new People(config, pool, log)
  await oneStartAtATime(primary, () => people.open())
  const onQueueError = (error: Error): void => {
    // While the database is away the queue says so twice a second.
    if (!database.report(error)) log.error({ err: error }, 'job queue')
  }
  const jobs = new Jobs(config.DATABASE_URL, jobWorks(), onQueueError, {
    runs: config.ROLE !== 'web',
    ...(config.ROLE === 'all' ? {} : { graceMs: drainMs }),
  })
  const context: Context = {
    ...{ config, pool, database, disk, log, events, bus, reads, sources, crawler, people, secrets, hooks, jobs },
  }
  const portOf = (server: Server): number => (server.address() as AddressInfo).port
  const server: Server = createServer(makeApp(context, () => portOf(server)))
  // Longer than any stretch of computing: a connection that ran out of time during one was closed under a question that had just come.
  server.keepAliveTimeout = 65_000
  server.headersTimeout = 66_000
  await joinOthers(context, jobs)
  await oneStartAtATime(primary, async () => {
    await jobs.start(context)
    for (const [name, work] of Object.entries(nightlyWorks())) await jobs.everyNight(name, () => work(context))
    const works = scheduleWorks()
    for (const [name, work] of Object.entries(minutelyWorks())) await jobs.everyMinute(name, () => work(context))
    await jobs.everyMinute('due-schedules', async () => void (await runDue(context, works)))
  })
  // Each process has uses of its own to write down.
  const flushing = setInterval(() => void people.flush().catch(error => database.report(error)), 60_000)
  // Tables that this start made must be at a replica before it is asked.
  await reads?.noteWritten()
  await new Promise<void>((resolve, reject) => {
    server.once('error', reject)
    server.listen(config.PORT, config.HOST, () => resolve())
  })
  const url = `http://${config.HOST}:${portOf(server)}`
  log.info({ url }, 'listening')
  return {
    context,
    url,
    async close() {
      clearInterval(flushing)
      events.close()
      server.close()
      server.closeAllConnections()
      await jobs.stop()
      await people.flush().catch(error => log.warn({ err: error }, 'what was used was not written down'))
      await crawler.close()
      await bus.close()
      await hooks.close()
      await sources.close()
      database.close()
      disk.close()
      await reads?.close()
      await primary.end()
      await forwarder?.close()
    },
  }
}

/** Has a process hear of what the others do, and tells them what it does. */
async function joinOthers(context: Context, jobs: Jobs): Promise<void> {
  const { pool, log, events, bus, sources, people } = context
  // Alone it tells nobody, and hears of others within seconds of their start.
  const tell = (messages: BusMessage[]): void => {
    if (!bus.isShared) return
    void bus.tell(messages).catch(error => {
      if (!context.database.report(error)) log.warn({ err: error }, 'other processes were not told')
    })
  }
  events.relay = published =>
    tell(
      published.map(({ siteId, event }) =>
        event.type === 'job' ? { kind: 'job', jobId: event.job.id } : { kind: 'change', siteId, type: event.type },
      ),
    )
  jobs.onWanted = (jobId, wanted) => tell([{ kind: 'wanted', jobId, wanted }])
  people.onChange = () => tell([{ kind: 'people' }])
  sources.share(bus)
  bus.onGap = () => events.breakOff()
  bus.onMessage(message => {
    if (message.kind === 'change') events.passOn(message.siteId, { type: message.type })
    if (message.kind === 'wanted') jobs.halt(message.jobId, message.wanted)
    if (message.kind === 'people') void people.lookAgain().catch(error => context.database.report(error))
    if (message.kind === 'job')
      void maybeJob(pool, message.jobId).then(
        row => row && events.passOn(row.siteId, { type: 'job', job: toJob(row) }),
        error => context.database.report(error),
      )
  })
  await bus.open()
}

/** How long a start waits for a database that does not answer yet. */
const startWaitMs = 60_000

/** Makes the tables of a new database. One that is just starting is waited for; any other error ends the start. */
async function schemaWhenThere(pool: pg.Pool, database: DatabaseWatch, log: Logger): Promise<void> {
  const startedMs = performance.now()
  for (;;) {
    try {
      await makeSchema(pool)
      return
    } catch (error) {
      if (!isDatabaseAway(error) || performance.now() - startedMs > startWaitMs) {
        database.close()
        await pool.end().catch(() => undefined)
        throw error
      }
      log.warn({ err: error }, 'the database does not answer yet')
      database.report(error)
      await Promise.race([database.whenBack(), sleep(startWaitMs)])
    }
  }
}
