import type pg from 'pg'
import type { Logger } from 'pino'
import type { Config } from './config.ts'
import type { Events } from './http/events.ts'
import type { Jobs } from './jobs/jobs.ts'
import type { Sources } from './sources/sources.ts'

/** What a running server is made of; handed to routes and jobs. */
export type Context = { config: Config; pool: pg.Pool; log: Logger; events: Events; sources: Sources; jobs: Jobs }
