import { randomUUID } from 'node:crypto'
import { mkdirSync } from 'node:fs'
import { join } from 'node:path'
import type { Endpoint } from '@dew-trail/contract/endpoint'
import { requestParts } from '@dew-trail/contract/endpoint'
import { getJob, type Job } from '@dew-trail/contract/jobs'
import { createSite, type Site } from '@dew-trail/contract/sites'
import pg from 'pg'
import { pino } from 'pino'
import { inject } from 'vitest'
import type { z } from 'zod'
import { readConfig } from '../src/platform/config.ts'
import { type RunningServer, startServer } from '../src/start-server.ts'

export type TestServer = RunningServer & {
  databaseUrl: string
  call<I extends z.ZodType, O extends z.ZodType>(spec: Endpoint<I, O>, input: z.input<I>): Promise<z.output<O>>
  raw(path: string, init?: RequestInit): Promise<{ status: number; body: any; headers: Headers }>
  finish(jobId: number): Promise<Job>
  rows(
    siteId: number,
    marketId: number,
    since?: number,
  ): Promise<{ rows: Array<Record<string, any> & { id: number }>; revision: number }>
  upload(siteId: number, kind: string, body: string | Buffer, fileName?: string): Promise<any>
}

/** A server on a database of its own and a free port, asking the tests' stand-in. */
export async function testServer(env: Record<string, string> = {}, databaseUrl?: string): Promise<TestServer> {
  const url = databaseUrl ?? (await emptyDatabase())
  const folder = join(inject('folder'), randomUUID())
  mkdirSync(folder)
  const rates = Object.fromEntries(
    ['ENGINES', 'COMPLETIONS', 'ADS', 'FEEDS', 'REGISTRY', 'MAPS'].map(name => [`RATE_${name}`, '5000']),
  )
  const config = readConfig({
    DATABASE_URL: url,
    PORT: '0',
    DATA_DIR: folder,
    WEB_DIR: folder,
    SOURCE_URL: inject('source'),
    CRAWL_PROXY: inject('source'),
    CRAWL_PROXY_TUNNEL: 'no',
    CRAWL_DELAY_MS: '0',
    LOG_LEVEL: 'silent',
    STANDING_REFERENCE_SITES: '150',
    STANDING_REFERENCE_SITE_RANK: '10',
    STANDING_REFERENCE_PAGE_RANK: '100',
    ...rates,
    ...env,
  })
  const running = await startServer(config, pino({ level: process.env.TEST_LOG ?? 'silent' }))
  return { ...running, databaseUrl: url, ...questions(running) }
}

/** Empty tables and queues, which every database of a test begins as a copy of: making them takes ten times as long. */
const ready = 'ready'
/** A new database with all tables and nothing in them. */
async function emptyDatabase(): Promise<string> {
  const admin = inject('postgres')
  const named = (name: string): string => admin.replace(/\/postgres$/, `/${name}`)
  const name = `t_${randomUUID().replaceAll('-', '')}`
  const client = new pg.Client({ connectionString: admin })
  await client.connect()
  try {
    // One worker makes the first; while a database is copied nobody may be in it, so copies too are made in turn.
    await client.query('select pg_advisory_lock(1)')
    const { rowCount } = await client.query('select from pg_database where datname = $1', [ready])
    if (!rowCount) {
      await client.query(`create database ${name}`)
      await (await testServer({}, named(name))).close()
      await client.query(`alter database ${name} rename to ${ready}`)
    }
    await client.query(`create database ${name} template ${ready}`)
  } finally {
    await client.end()
  }
  return named(name)
}

/** How a test asks a server. */
function questions(running: RunningServer): Omit<TestServer, keyof RunningServer | 'databaseUrl'> {
  const raw: TestServer['raw'] = async (path, init) => {
    const response = await fetch(running.url + path, init)
    const text = await response.text()
    let body: unknown = text
    try {
      body = JSON.parse(text)
    } catch {
      /* Not everything is JSON. */
    }
    return { status: response.status, body, headers: response.headers }
  }
  const call: TestServer['call'] = async (spec, input) => {
    const { url: path, body } = requestParts(spec, input as Record<string, unknown>)
    const answer = await raw(path, {
      method: spec.method,
      ...(body === undefined ? {} : { body, headers: { 'content-type': 'application/json' } }),
    })
    if (answer.status >= 400)
      throw Object.assign(new Error(answer.body.error?.message), {
        code: answer.body.error?.code,
        status: answer.status,
      })
    return answer.body
  }
  return {
    raw,
    call,
    async finish(jobId) {
      for (;;) {
        const job = await call(getJob, { jobId })
        if (job.endedAt !== null) return job
        await new Promise(resolve => setTimeout(resolve, 15))
      }
    },
    async rows(siteId, marketId, since = 0) {
      const { body } = await raw(`/api/sites/${siteId}/keywords?marketId=${marketId}&since=${since}`)
      const lines = (typeof body === 'string' ? body : JSON.stringify(body))
        .trim()
        .split('\n')
        .map(line => JSON.parse(line))
      return {
        rows: lines.flatMap(line =>
          (line.ids ?? []).map((id: number, i: number) => ({
            id,
            ...line.same,
            ...Object.fromEntries(
              Object.entries(line.columns as Record<string, unknown[]>).map(([key, values]) => [key, values[i]]),
            ),
          })),
        ),
        revision: lines.at(-1).revision,
      }
    },
    async upload(siteId, kind, body, fileName = 'file.csv') {
      return (
        await raw(`/api/sites/${siteId}/imports?kind=${kind}&fileName=${fileName}`, {
          method: 'POST',
          body: body as string,
          headers: { 'content-type': 'text/csv' },
        })
      ).body
    },
  }
}

/**
 * Does something on a server that reaches no source, in the place of another on the same database: of two that run side by side either may take
 * up a job. Gives the server that goes on afterwards.
 */
export async function withoutSources(
  server: TestServer,
  work: (down: TestServer) => Promise<void>,
): Promise<TestServer> {
  await server.close()
  const down = await testServer({ SOURCE_URL: 'http://127.0.0.1:9', SOURCE_TRIES: '1' }, server.databaseUrl)
  try {
    await work(down)
  } finally {
    await down.close()
  }
  return testServer({}, server.databaseUrl)
}

export const demoSite = (server: TestServer): Promise<Site> =>
  server.call(createSite, { domain: 'kilnandtide.example', name: 'Kiln & Tide' })
