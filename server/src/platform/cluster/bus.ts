import { randomUUID } from 'node:crypto'
import { setTimeout as sleep } from 'node:timers/promises'
import type { SiteChange } from '@dew-trail/contract/jobs'
import pg from 'pg'
import type { Logger } from 'pino'

/** What processes tell each other: names and numbers only, whoever needs more reads it from the database. */
export type BusMessage =
  | { kind: 'change'; siteId: number | null; type: SiteChange }
  | { kind: 'job'; jobId: number }
  /** Somebody wants a job to pause or to end. */
  | { kind: 'wanted'; jobId: number; wanted: 'pause' | 'cancel' }
  /** A source asked to be left alone for so long. */
  | { kind: 'hold'; source: string; ms: number }
  | { kind: 'here' }
  /** Something was written up to this place in the database's log. */
  | { kind: 'wrote'; position: string }
  | { kind: 'sources' }
  | { kind: 'people' }

const channel = 'dew_trail'
/** PostgreSQL takes less than 8,000 bytes at a time. */
const mostBytes = 7_000
const longestWaitMs = 5_000
/** How often a process says that it is there, and for how long one that said so is taken to be. */
const [hereMs, thereMs] = [10_000, 30_000]

/** Carries messages between the processes that work on one database, by LISTEN and NOTIFY. A process does not hear itself. */
export class Bus {
  readonly #id = randomUUID().slice(0, 8)
  readonly #url: string
  readonly #pool: pg.Pool
  readonly #log: Logger
  readonly #stop = new AbortController()
  #client: pg.Client | null = null
  #beat: NodeJS.Timeout | undefined
  #othersMs = Number.NEGATIVE_INFINITY
  readonly #alwaysShared: boolean
  readonly #heard: Array<(message: BusMessage) => void> = []
  /** Called when messages may have been missed, since the connection was lost. */
  onGap: () => void = () => undefined

  /** `alwaysShared`: this process is one of several by its role, whoever is heard. */
  constructor(url: string, pool: pg.Pool, log: Logger, alwaysShared: boolean) {
    this.#alwaysShared = alwaysShared
    this.#url = url
    this.#pool = pool
    this.#log = log
  }

  /** Whether other processes may work on the same database, so that what is counted in memory must be counted together. */
  get isShared(): boolean {
    return this.#alwaysShared || performance.now() - this.#othersMs < thereMs
  }

  /** Begins to listen; resolves once it does. */
  async open(): Promise<void> {
    await this.#listen()
    const say = (): void => void this.tell([{ kind: 'here' }]).catch(() => undefined)
    say()
    this.#beat = setInterval(say, hereMs)
  }

  onMessage(hear: (message: BusMessage) => void): void {
    this.#heard.push(hear)
  }

  /** Tells all other processes. What cannot be told is lost: whoever missed it asks the database in time. */
  async tell(messages: readonly BusMessage[]): Promise<void> {
    for (let part: BusMessage[] = [], i = 0; i < messages.length; i++) {
      part.push(messages[i]!)
      const text = JSON.stringify({ from: this.#id, messages: part })
      const next = messages[i + 1]
      if (next && text.length + JSON.stringify(next).length < mostBytes) continue
      await this.#pool.query('select pg_notify($1, $2)', [channel, text])
      part = []
    }
  }

  async close(): Promise<void> {
    this.#stop.abort()
    clearInterval(this.#beat)
    await this.#client?.end().catch(() => undefined)
  }

  async #listen(): Promise<void> {
    const client = new pg.Client({ connectionString: this.#url, application_name: 'dew-trail-bus', keepAlive: true })
    client.on('notification', ({ payload = '' }) => this.#hear(payload))
    client.on('error', error => this.#lost(client, error))
    client.on('end', () => this.#lost(client, null))
    await client.connect()
    await client.query(`listen ${channel}`)
    this.#client = client
  }

  #hear(payload: string): void {
    const { from, messages } = JSON.parse(payload) as { from: string; messages: BusMessage[] }
    if (from === this.#id) return
    const known = this.isShared
    this.#othersMs = performance.now()
    // Who just came is told at once that it is not alone.
    if (!known) void this.tell([{ kind: 'here' }]).catch(() => undefined)
    for (const message of messages) for (const hear of this.#heard) hear(message)
  }

  #lost(client: pg.Client, error: Error | null): void {
    if (this.#client !== client || this.#stop.signal.aborted) return
    this.#client = null
    this.#log.warn({ err: error }, 'other processes are not heard for a while')
    void this.#listenAgain()
  }

  async #listenAgain(): Promise<void> {
    for (let waitMs = 100; !this.#stop.signal.aborted; waitMs = Math.min(longestWaitMs, waitMs * 2)) {
      await sleep(waitMs)
      try {
        await this.#listen()
        this.onGap()
        return
      } catch {
        // Asked again after a longer wait.
      }
    }
  }
}
