import { AsyncLocalStorage } from 'node:async_hooks'
import { setTimeout as sleep } from 'node:timers/promises'
import type pg from 'pg'
import type { Logger } from 'pino'
import { isDatabaseAway } from './database-errors.ts'
import { openPool } from './pool.ts'

type Replica = { pool: pg.Pool; host: string; replayed: bigint; isUp: boolean }
/** How often a replica is asked how far it is, how long a reader waits for one, and how often it looks meanwhile. */
const [askMs, waitMs, lookMs] = [250, 400, 15]
const readOnlyCode = '25006'

/** A place in the log of PostgreSQL ("16/B374D848") as a number. */
export function walPosition(text: string): bigint {
  const match = /^([0-9A-F]{1,8})\/([0-9A-F]{1,8})$/i.exec(text)
  return match ? (BigInt(`0x${match[1]}`) << 32n) + BigInt(`0x${match[2]}`) : 0n
}

/**
 * Reads from replicas. A request that reads is given one that has replayed all that this process and the reader wrote or were told of; where none
 * has within a moment, or none is there, the primary is asked. All else goes to the primary.
 */
export class ReadPools {
  readonly #primary: pg.Pool
  readonly #replicas: Replica[]
  readonly #log: Logger
  readonly #chosen = new AsyncLocalStorage<pg.Pool | null>()
  readonly #timer: NodeJS.Timeout
  /** All up to here was written or told of in this process. */
  #seen = 0n
  #turn = 0
  /** The pool for everybody: its questions go where the request under way reads. */
  readonly pool: pg.Pool

  constructor(primary: pg.Pool, urls: readonly string[], log: Logger) {
    this.#primary = primary
    this.#log = log
    this.#replicas = urls.map(url => ({
      pool: openPool(url, 10),
      host: new URL(url).host,
      replayed: 0n,
      isUp: false,
    }))
    this.#timer = setInterval(() => void this.#askAll(), askMs)
    this.pool = new Proxy(primary, {
      get: (target, name) => {
        if (name === 'query') return (...args: unknown[]) => this.#query(args)
        if (name === 'connect') return (...args: unknown[]) => this.#connect(args)
        const value = Reflect.get(target, name, target)
        return typeof value === 'function' ? value.bind(target) : value
      },
    })
  }

  /** Runs the reading of a request with the replica it is given, if any. `seen`: the log place that the reader brings. */
  async read(seen: string | undefined, work: () => void): Promise<void> {
    this.#chosen.run((await this.#choose(seen ? walPosition(seen) : 0n))?.pool ?? null, work)
  }

  /** Takes note of what was written up to now, and gives its place in the log. */
  async noteWritten(): Promise<string> {
    const { rows } = await this.#primary.query<{ at: string }>('select pg_current_wal_insert_lsn()::text at')
    this.see(rows[0]!.at)
    return rows[0]!.at
  }
  /** Takes note of what another process wrote. */
  see(position: string): void {
    const at = walPosition(position)
    if (at > this.#seen) this.#seen = at
  }

  async close(): Promise<void> {
    clearInterval(this.#timer)
    await Promise.all(this.#replicas.map(each => each.pool.end()))
  }

  async #choose(brought: bigint): Promise<Replica | null> {
    const needed = brought > this.#seen ? brought : this.#seen
    const untilMs = performance.now() + waitMs
    for (;;) {
      const up = this.#replicas.filter(each => each.isUp)
      const ready = up.filter(each => each.replayed >= needed)
      if (ready.length) return ready[this.#turn++ % ready.length]!
      if (!up.length || performance.now() > untilMs) return null
      await sleep(lookMs)
      await Promise.all(up.map(each => this.#ask(each)))
    }
  }

  async #askAll(): Promise<void> {
    await Promise.all(this.#replicas.map(each => this.#ask(each)))
  }
  async #ask(replica: Replica): Promise<void> {
    try {
      const { rows } = await replica.pool.query<{ at: string | null }>(
        'select pg_last_wal_replay_lsn()::text at where pg_is_in_recovery()',
      )
      // One that follows nobody any more is no replica: it was promoted, or never was one.
      replica.isUp = rows[0]?.at != null
      if (rows[0]?.at) replica.replayed = walPosition(rows[0].at)
    } catch (error) {
      this.#down(replica, error)
    }
  }
  #down(replica: Replica, error: unknown): void {
    if (replica.isUp) this.#log.warn({ err: error, replica: replica.host }, 'a replica does not answer')
    replica.isUp = false
  }

  // biome-ignore lint/suspicious/noExplicitAny: the method it stands for has a dozen shapes
  #query(args: any[]): any {
    const pool = this.#chosen.getStore()
    const ask = (of: pg.Pool): unknown => (of.query as (...all: unknown[]) => unknown).apply(of, args)
    if (!pool) return ask(this.#primary)
    const answer = ask(pool)
    if (!(answer instanceof Promise)) return answer
    return answer.catch(error => {
      if (isDatabaseAway(error)) this.#down(this.#replicas.find(each => each.pool === pool)!, error)
      else if ((error as { code?: string }).code !== readOnlyCode) throw error
      return ask(this.#primary)
    })
  }
  // biome-ignore lint/suspicious/noExplicitAny: the method it stands for has several shapes
  #connect(args: any[]): any {
    const pool = this.#chosen.getStore()
    const ask = (of: pg.Pool): unknown => (of.connect as (...all: unknown[]) => unknown).apply(of, args)
    if (!pool) return ask(this.#primary)
    return (ask(pool) as Promise<unknown>).catch(error => {
      this.#down(this.#replicas.find(each => each.pool === pool)!, error)
      return ask(this.#primary)
    })
  }
}
