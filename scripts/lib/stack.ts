import { chmodSync, cpSync, mkdirSync, mkdtempSync, rmSync } from 'node:fs'
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
  /** Starts another server on the same database, as on a machine of its own. */
  addServer(env: Record<string, string>): Promise<RunningProgram>
  close(): Promise<void>
}
export type RunningProgram = { url: string; program: ReturnType<typeof startProgram> }
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
      addServer: env => addServer(env),
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
    const shared = {
      DATABASE_URL: databaseUrl,
      SOURCE_URL: source,
      CRAWL_PROXY: source,
      CRAWL_PROXY_TUNNEL: 'no',
      CRAWL_DELAY_MS: options.throttled ? '30' : '0',
      WEB_DIR: options.webDir ?? join(root, 'web/dist'),
      STANDING_REFERENCE_SITES: '150',
      STANDING_REFERENCE_SITE_RANK: '10',
      STANDING_REFERENCE_PAGE_RANK: '100',
      LOG_LEVEL: 'warn',
      ...fast,
      ...options.env,
    }
    const start = (url: string, files: string, log: string, env: Record<string, string>): RunningProgram['program'] => {
      mkdirSync(files, { recursive: true })
      const own = { ...shared, PORT: new URL(url).port, DATA_DIR: files, ...env }
      const program = startProgram(root, 'server/src/main.ts', own, log)
      closing.push(program.stop)
      return program
    }
    let added = 0
    const addServer = async (env: Record<string, string>): Promise<RunningProgram> => {
      const url = `http://127.0.0.1:${await freePort()}`
      const files = join(folder, `files-${++added}`)
      // What is sealed by one of them, the others must be able to read.
      cpSync(join(folder, 'files', 'secret-key'), join(files, 'secret-key'))
      const program = start(url, files, join(folder, `server-${added}.log`), env)
      await waitFor(`${url}/api/health`, program, 'The server')
      return { url, program }
    }
    const program = start(server, join(folder, 'files'), join(folder, 'server.log'), {})
    await waitFor(`${source}/health`, standin, 'The stand-in')
    await waitFor(`${server}/api/health`, program, 'The server')
    stack.serverPid = program.pid
    return stack
  } catch (error) {
    await close()
    throw error
  }
}
