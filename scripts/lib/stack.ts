import { chmodSync, mkdirSync, mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { startProgram, waitFor } from './children.mjs'
import { freePort, needDatabase, type RunningPostgres, startPostgres } from './postgres.mjs'

export const root = fileURLToPath(new URL('../..', import.meta.url))

export type Stack = {
  server: string
  source: string
  truth: string
  databaseUrl: string
  postgres: RunningPostgres
  /** How it was started, to be started again. */
  postgresAt: { folder: string; logFile: string; fast: boolean }
  folder: string
  /** The server's data folder. */
  dataDir: string
  /** The server's process. */
  serverPid: number
  close(): Promise<void>
}
export type StackOptions = {
  seed?: number
  size?: number
  today?: string
  throttled?: boolean
  webDir?: string
  env?: Record<string, string>
}

/** A whole Dew Trail beside a running one: own database, stand-in and server on free ports, all in a folder that goes away. */
export async function startStack(options: StackOptions = {}): Promise<Stack> {
  const folder = mkdtempSync(join(tmpdir(), 'dew-trail-'))
  // PostgreSQL runs as another account when this is root, and must be able to enter.
  chmodSync(folder, 0o755)
  let stack: Stack | undefined
  const closing: Array<() => Promise<void>> = [async () => rmSync(folder, { recursive: true, force: true })]
  const close = async () => {
    for (const stop of closing.reverse()) await stop()
  }
  try {
    const postgresAt = { folder: join(folder, 'data', 'postgres'), logFile: join(folder, 'postgres.log'), fast: true }
    const postgres = await startPostgres(postgresAt)
    // A test may have stopped it and started another.
    closing.push(() => (stack?.postgres ?? postgres).stop())
    const databaseUrl = needDatabase(postgres, 'dewtrail')
    const [standinPort, truthPort, port] = [await freePort(), await freePort(), await freePort()]
    const source = `http://127.0.0.1:${standinPort}`
    const server = `http://127.0.0.1:${port}`
    const truth = `http://127.0.0.1:${truthPort}`
    stack = {
      server,
      source,
      truth,
      databaseUrl,
      postgres,
      postgresAt,
      folder,
      dataDir: join(folder, 'files'),
      serverPid: 0,
      close,
    }
    const standin = startProgram(
      root,
      'standin/src/main.ts',
      {
        STANDIN_PORT: String(standinPort),
        STANDIN_TRUTH_PORT: String(truthPort),
        STANDIN_SEED: String(options.seed ?? 7),
        STANDIN_SIZE: String(options.size ?? 1),
        ...(options.today ? { STANDIN_TODAY: options.today } : {}),
        ...(options.throttled ? {} : { STANDIN_UNTHROTTLED: '1' }),
      },
      join(folder, 'standin.log'),
    )
    closing.push(standin.stop)
    const fast = options.throttled
      ? {}
      : Object.fromEntries(
          ['ENGINES', 'COMPLETIONS', 'ADS', 'FEEDS', 'REGISTRY', 'QUERYLOG'].map(name => [`RATE_${name}`, '5000']),
        )
    mkdirSync(join(folder, 'files'))
    const program = startProgram(
      root,
      'server/src/main.ts',
      {
        DATABASE_URL: databaseUrl,
        SOURCE_URL: source,
        CRAWL_PROXY: source,
        CRAWL_PROXY_TUNNEL: 'no',
        CRAWL_DELAY_MS: options.throttled ? '30' : '0',
        PORT: String(port),
        DATA_DIR: join(folder, 'files'),
        WEB_DIR: options.webDir ?? join(root, 'web/dist'),
        STANDING_REFERENCE_SITES: '150',
        STANDING_REFERENCE_SITE_RANK: '10',
        STANDING_REFERENCE_PAGE_RANK: '100',
        LOG_LEVEL: 'warn',
        ...fast,
        ...options.env,
      },
      join(folder, 'server.log'),
    )
    closing.push(program.stop)
    await waitFor(`${source}/health`, standin, 'The stand-in')
    await waitFor(`${server}/api/health`, program, 'The server')
    stack.serverPid = program.pid
    return stack
  } catch (error) {
    await close()
    throw error
  }
}
