import type { Job, JobKind } from '@dew-trail/contract/jobs'
import type pg from 'pg'
import type { Logger } from 'pino'
import type { Config } from './config.ts'
import type { Crawler } from './crawl/crawler.ts'
import type { Events } from './http/events.ts'
import type { Sources } from './sources/sources.ts'

/** What features may do with background work. */
export type JobStarter = {
  add(siteId: number, kind: JobKind, title: string, payload: object): Promise<Job>
  act(jobId: number, action: 'pause' | 'resume' | 'cancel' | 'retry'): Promise<Job>
}

/** What a running server is made of; handed to routes and jobs. */
export type Context = {
  config: Config
  pool: pg.Pool
  log: Logger
  events: Events
  sources: Sources
  crawler: Crawler
  jobs: JobStarter
}
