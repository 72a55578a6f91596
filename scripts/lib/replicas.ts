import { join } from 'node:path'
import { startCluster } from '../cluster.mjs'
import { startProgram, waitFor } from './children.mjs'
import { freePort } from './postgres.mjs'
import { root } from './stack.ts'

export type Replicated = {
  /** A new database at the primary. */
  url: string
  /** The same at each replica. */
  readUrls: string[]
  /** Runs a statement at the primary, past the program. */
  atPrimary(sql: string): void
  /** Has all replicas stand still, or go on. */
  hold(on: boolean): void
  /** Starts a server that answers, with reads at the replicas; gives its address. */
  startWeb(): Promise<string>
  /** Starts a server that does everything and is told of all machines, whichever is the primary. */
  startFollower(): Promise<string>
  /** Has the primary acknowledge only what a replica has too, to connections that are opened from now on. */
  waitForReplicas(): void
  /** Kills a replica. */
  kill(replica: number): void
  /** Kills the primary and has a replica take its place. */
  failOver(replica: number): void
  stop(): Promise<void>
}

/** A primary and replicas (`cluster.mjs`), and servers on them. For tests and trials. */
export async function startReplicated(count: number, database = 'replicated'): Promise<Replicated> {
  const { folder, url, readUrls, primary, replicas, execute, stop } = await startCluster(count, database)
  const programs: Array<ReturnType<typeof startProgram>> = []
  return {
    url,
    readUrls,
    atPrimary: sql => execute(url, sql),
    hold(on) {
      for (const at of readUrls) execute(at, `select pg_wal_replay_${on ? 'pause' : 'resume'}()`)
    },
    waitForReplicas() {
      execute(url, "alter system set synchronous_standby_names = '*'")
      // What is said at the start of a server counts more than what is set in it, but less than what is set for a database.
      execute(url, `alter database ${database} set synchronous_commit = on`)
      execute(url, 'select pg_reload_conf()')
    },
    startWeb: () => startServer({ ROLE: 'web', DATABASE_URL: url, DATABASE_READ_URLS: readUrls.join(', ') }),
    startFollower: () =>
      startServer({ DATABASE_URL: url.replace(/@[^/]+/, `@${[url, ...readUrls].map(hostOf).join(',')}`) }),
    kill(replica) {
      process.kill(replicas[replica]!.pid, 'SIGKILL')
    },
    failOver(replica) {
      process.kill(primary.pid, 'SIGKILL')
      execute(readUrls[replica]!, 'select pg_promote()')
    },
    async stop() {
      await Promise.all(programs.map(each => each.stop()))
      await stop()
    },
  }

  async function startServer(env: Record<string, string>): Promise<string> {
    const port = await freePort()
    const dataDir = join(folder, `files-${port}`)
    const program = startProgram(
      root,
      'server/src/main.ts',
      { PORT: String(port), DATA_DIR: dataDir, LOG_LEVEL: 'warn', ...env },
      join(folder, `server-${port}.log`),
    )
    programs.push(program)
    const server = `http://127.0.0.1:${port}`
    await waitFor(`${server}/api/health`, program, 'The server')
    return server
  }
}

const hostOf = (url: string): string => new URL(url).host
