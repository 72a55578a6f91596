import type { Job, JobKind } from '@dew-trail/contract/jobs'
import type pg from 'pg'
import type { Logger } from 'pino'
import type { Config } from './platform/config.ts'
import type { Crawler } from './domain/pages/crawler.ts'
import type { People } from './domain/people/sign-in-state.ts'
import type { ReadPools } from './platform/db/read-pools.ts'
import type { DatabaseWatch } from './platform/db/database-watch.ts'
import type { DiskSpace } from './platform/disk-space.ts'
import type { Bus } from './platform/cluster/bus.ts'
import type { Events } from './platform/http/events.ts'
import type { HookSender } from './domain/web-hooks/deliver.ts'
import type { Secrets } from './platform/secrets.ts'
import type { Sources } from './sources/sources.ts'

/** What features may do with background work. */
export type JobStarter = {
  /**
   * Adds work, of a site or, without one, of the whole installation. While work of the same site, kind and `key` is open, that job is given instead: the same thing asked for twice is one.
   * Without a key the payload is the key.
   */
  add(siteId: number | null, kind: JobKind, title: string, payload: object, key?: string): Promise<AddedJob>
  act(jobId: number, action: 'pause' | 'resume' | 'cancel' | 'retry'): Promise<Job>
}

/** `isNew`: false when the same work was open already; `payload` is that of the job which does it. */
export type AddedJob = Job & { isNew: boolean; payload: Record<string, unknown> }

/** What a running server is made of; handed to routes and jobs. */
export type Context = {
  config: Config
  pool: pg.Pool
  database: DatabaseWatch
  disk: DiskSpace
  log: Logger
  events: Events
  bus: Bus
  /** Null where no replicas are read. */
  reads: ReadPools | null
  sources: Sources
  crawler: Crawler
  people: People
  secrets: Secrets
  hooks: HookSender
  jobs: JobStarter
}
