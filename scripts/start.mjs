/** `npm start`: installs what is missing, starts PostgreSQL, the stand-in and the server, loads the demo, prints the address, and stops it all on Ctrl-C. */
import { randomBytes } from 'node:crypto'
import { createServer } from 'node:net'
import { existsSync, mkdirSync, readFileSync } from 'node:fs'
import { join, resolve } from 'node:path'
import { fileURLToPath } from 'node:url'
import { buildWeb } from './lib/build-web.mjs'
import { startProgram, waitFor } from './lib/children.mjs'
import { loadDemo } from './lib/demo.mjs'
import { endWhenHung, keepRunning } from './lib/keep-running.mjs'
import { installPackages, needNode } from './lib/install.mjs'
import { freePort, needDatabase, startPostgres } from './lib/postgres.mjs'
import { ClearError, say } from './lib/say.mjs'
import { takeLock } from './lib/start-lock.mjs'

const root = fileURLToPath(new URL('..', import.meta.url))
const { env } = process
const startedMs = performance.now()
/** What to stop, last started first. @type {Array<() => Promise<void>>} */
const running = []
/** @type {Awaited<ReturnType<typeof takeLock>> | undefined} */
let lock
let stopping = false

async function stopAll() {
  if (stopping) return
  stopping = true
  for (const stop of running.reverse()) await stop().catch(error => console.error(`  ${error.message}`))
  lock?.free()
}
for (const signal of /** @type {const} */ (['SIGINT', 'SIGTERM', 'SIGHUP']))
  process.on(signal, () => {
    if (!stopping) console.log('\n  Stopping')
    stopAll().then(() => process.exit(0))
  })

/** @param {string} host @param {number} port */
const needFreePort = (host, port) =>
  new Promise((done, fail) => {
    const probe = createServer()
    probe.once('error', error => {
      const { code } = /** @type {NodeJS.ErrnoException} */ (error)
      fail(
        new ClearError(
          code === 'EADDRINUSE'
            ? `Port ${port} is in use by another program. Start with another one: PORT=${port + 1} npm start`
            : code === 'EACCES'
              ? `Port ${port} needs more rights than this account has. Start with another one: PORT=4600 npm start`
              : `Port ${port} on ${host} cannot be used (${code}).`,
        ),
      )
    })
    probe.listen(port, host, () => probe.close(() => done(undefined)))
  })

/** The code for the first account, where that is still to be made. @param {string} path */
const readCode = path => (existsSync(path) ? readFileSync(path, 'utf8') : null)

async function start() {
  needNode()
  const dataDir = resolve(root, env.DATA_DIR ?? '.data')
  const host = env.HOST ?? '127.0.0.1'
  const port = Number(env.PORT ?? 4600)
  if (!Number.isInteger(port) || port < 1 || port > 65_535)
    throw new ClearError(`PORT must be a number from 1 to 65535, not "${env.PORT}".`)
  console.log('Dew Trail')
  lock = await takeLock(join(dataDir, 'start.lock'))
  await needFreePort(host, port)
  mkdirSync(join(dataDir, 'log'), { recursive: true })
  const logOf = (/** @type {string} */ name) => join(dataDir, 'log', `${name}.log`)
  installPackages(root)
  buildWeb(root)

  let databaseUrl = env.DATABASE_URL
  let source = env.SOURCE_URL
  const key = env.SOURCE_KEY ?? 'demo-key'
  /** @type {ReturnType<typeof startProgram> | undefined} */
  let standin
  /** Starts a program again when it ends, and says why. @param {string} name @param {import('./lib/keep-running.mjs').Program} program @param {() => Promise<import('./lib/keep-running.mjs').Program>} again */
  const keep = (name, program, again) =>
    keepRunning({ name, program, start: again, isStopping: () => stopping, tell: say, logFolder: join(dataDir, 'log') })
  /** What keeps the programs running, begun once all are. @type {Array<() => Promise<void>>} */
  const keepers = []
  if (!source) {
    say('Starting the stand-in for the outside world')
    const standinPort = await freePort()
    source = `http://127.0.0.1:${standinPort}`
    const begin = () => {
      const program = startProgram(
        root,
        'standin/src/main.ts',
        { STANDIN_PORT: String(standinPort), STANDIN_KEY: key },
        logOf('standin'),
      )
      lock?.addChild(program.pid)
      return program
    }
    let outside = begin()
    standin = outside
    running.push(() => outside.stop())
    keepers.push(() =>
      keep('The stand-in', outside, async () => {
        outside = begin()
        await waitFor(`${source}/health`, outside, 'The stand-in')
        return outside
      }),
    )
  }
  if (!databaseUrl) {
    say('Starting PostgreSQL')
    const where = { folder: join(dataDir, 'postgres'), logFile: logOf('postgres') }
    let postgres = await startPostgres(where)
    lock.addChild(postgres.pid)
    running.unshift(() => postgres.stop())
    databaseUrl = needDatabase(postgres, 'dewtrail')
    keepers.push(() =>
      keep('PostgreSQL', postgres, async () => {
        // On the port that the server knows.
        postgres = await startPostgres({ ...where, port: postgres.port })
        lock?.addChild(postgres.pid)
        return postgres
      }),
    )
  }
  say('Starting the server')
  // Lets the start load the demo where people have to sign in.
  const startKey = randomBytes(24).toString('base64url')
  const serverEnv = {
    START_KEY: startKey,
    DATABASE_URL: databaseUrl,
    SOURCE_URL: source,
    SOURCE_KEY: key,
    HOST: host,
    PORT: String(port),
    DATA_DIR: dataDir,
    WEB_DIR: join(root, 'web/dist'),
    // The stand-in's web has some eighty sites, so the tops of the scales of standing lie lower.
    ...(standin
      ? {
          STANDING_REFERENCE_SITES: env.STANDING_REFERENCE_SITES ?? '150',
          STANDING_REFERENCE_SITE_RANK: env.STANDING_REFERENCE_SITE_RANK ?? '10',
          STANDING_REFERENCE_PAGE_RANK: env.STANDING_REFERENCE_PAGE_RANK ?? '100',
        }
      : {}),
    // The stand-in is its own web: a proxy for every host, and nobody's server to be gentle with.
    ...(standin ? { CRAWL_PROXY: source, CRAWL_PROXY_TUNNEL: 'no', CRAWL_DELAY_MS: env.CRAWL_DELAY_MS ?? '20' } : {}),
  }
  const begin = () => {
    const program = startProgram(root, 'server/src/main.ts', serverEnv, logOf('server'))
    lock?.addChild(program.pid)
    return program
  }
  let server = begin()
  running.push(() => server.stop())
  const url = `http://${host === '0.0.0.0' ? '127.0.0.1' : host}:${port}`
  if (standin) await waitFor(`${source}/health`, standin, 'The stand-in')
  await waitFor(`${url}/api/health`, server, 'The server')
  if (standin) {
    const { today } = await (await fetch(`${source}/health`)).json()
    await loadDemo({ server: url, source, key, today, startKey })
  }
  keepers.push(() =>
    keep('The server', server, async () => {
      server = begin()
      await waitFor(`${url}/api/health`, server, 'The server')
      return server
    }),
  )
  for (const keeper of keepers)
    keeper().catch(error => {
      console.error(error)
      stopAll().then(() => process.exit(1))
    })
  endWhenHung({ url: `${url}/api/health`, pid: () => server.pid, isStopping: () => stopping, tell: say })
  lock.setUrl(url)
  const code = readCode(join(dataDir, 'first-account-code'))
  if (code) console.log(`\n  Nobody has an account yet. Code for the first one: ${code}`)
  console.log(
    `\n  Ready after ${((performance.now() - startedMs) / 1000).toFixed(1)} s. Open ${url}\n  Stop with Ctrl-C.`,
  )
}

try {
  await start()
} catch (error) {
  if (!stopping) {
    console.error(error instanceof ClearError ? `  ${error.message}` : error)
    await stopAll()
    process.exit(1)
  }
}
