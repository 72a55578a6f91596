// A primary and replicas that follow it by streaming, from Debian's PostgreSQL, in a folder that goes away: for tests, and by hand
// (`node scripts/cluster.mjs [replicas]`) for a program with DATABASE_URL and DATABASE_READ_URLS.
import { chmodSync, copyFileSync, mkdirSync, mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { run } from './lib/install.mjs'
import { needDatabase, needPostgres, startPostgres, takeCopy } from './lib/postgres.mjs'
import { ClearError, say } from './lib/say.mjs'

/** @typedef {import('./lib/postgres.mjs').RunningPostgres} RunningPostgres */
/**
 * @typedef {object} Cluster
 * @property {string} folder All that it keeps, and room for what uses it.
 * @property {string} url A new database at the primary.
 * @property {string[]} readUrls The same at each replica.
 * @property {RunningPostgres} primary
 * @property {RunningPostgres[]} replicas
 * @property {(at: string, sql: string) => void} execute Runs a statement at one of the addresses.
 * @property {() => Promise<void>} stop
 */

/** Starts a primary and so many replicas. @param {number} count @param {string} database @returns {Promise<Cluster>} */
export async function startCluster(count, database) {
  const folder = mkdtempSync(join(tmpdir(), 'dew-trail-cluster-'))
  chmodSync(folder, 0o755)
  const settings = { wal_level: 'replica', max_wal_senders: count + 3, hot_standby: 'on', shared_buffers: '64MB' }
  const start = (/** @type {string} */ name) =>
    startPostgres({
      folder: join(folder, name, 'postgres'),
      logFile: join(folder, `${name}.log`),
      fast: true,
      settings,
    })
  /** @type {RunningPostgres[]} */
  const started = []
  const stop = async () => {
    await Promise.all(started.map(each => each.stop()))
    rmSync(folder, { recursive: true, force: true })
  }
  try {
    const primary = await start('primary')
    started.push(primary)
    const url = needDatabase(primary, database)
    for (let i = 1; i <= count; i++) {
      const own = join(folder, `replica-${i}`)
      mkdirSync(own, { mode: 0o755 })
      copyFileSync(join(folder, 'primary', 'database-password'), join(own, 'database-password'))
      takeCopy(needPostgres(), primary, join(own, 'postgres'))
      started.push(await start(`replica-${i}`))
    }
    const replicas = started.slice(1)
    const readUrls = replicas.map(each => each.url.replace(/\/postgres$/, `/${database}`))
    const execute = (/** @type {string} */ at, /** @type {string} */ sql) =>
      void run(join(primary.binDir, 'psql'), [at, '-v', 'ON_ERROR_STOP=1', '-qc', sql])
    return { folder, url, readUrls, primary, replicas, execute, stop }
  } catch (error) {
    await stop()
    throw error
  }
}

async function byHand() {
  const count = Number(process.argv[2] ?? 2)
  if (!Number.isInteger(count) || count < 0 || count > 8)
    throw new ClearError(`"${process.argv[2]}" is not a number of replicas from 0 to 8.`)
  const cluster = await startCluster(count, 'dewtrail')
  console.log(`DATABASE_URL=${cluster.url}`)
  if (count) console.log(`DATABASE_READ_URLS=${cluster.readUrls.join(',')}`)
  say('Ends, and takes its data along, with Ctrl-C')
  for (const signal of ['SIGINT', 'SIGTERM'])
    process.once(signal, () => void cluster.stop().then(() => process.exit(0)))
}

if (process.argv[1] === fileURLToPath(import.meta.url))
  byHand().catch(error => {
    console.error(error instanceof ClearError ? error.message : error)
    process.exitCode = 1
  })
