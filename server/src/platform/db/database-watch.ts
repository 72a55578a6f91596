import { setTimeout as sleep } from 'node:timers/promises'
import type { Logger } from 'pino'
import { askOnce } from './ask-once.ts'
import { isDatabaseAway } from './database-errors.ts'

const firstWaitMs = 100
const longestWaitMs = 5_000
const pingMs = 3_000

/**
 * Knows whether the database answers. Errors are reported to it; one that says the database is away makes it ask, with growing waits,
 * until it answers again, and then tell those who wait.
 */
export class DatabaseWatch {
  readonly #url: string
  readonly #log: Logger
  readonly #stop = new AbortController()
  #returning: Promise<void> | null = null
  /** Since when it has not answered; null while it does. */
  awaySince: Date | null = null
  /** Called each time it answers again, also after a single connection was lost. */
  onBack: () => void = () => undefined

  constructor(url: string, log: Logger) {
    this.#url = url
    this.#log = log
  }

  /** Takes notice of an error; whether it says that the database is away. */
  report(error: unknown): boolean {
    if (!isDatabaseAway(error)) return false
    if (!this.#stop.signal.aborted) this.#returning ??= this.#waitForIt()
    return true
  }

  /** Waits until the database answers; at once while nothing was reported. Rejects when the watch is closed. */
  async whenBack(): Promise<void> {
    await this.#returning
    this.#stop.signal.throwIfAborted()
  }

  close(): void {
    this.#stop.abort(new Error('the server stops'))
  }

  async #waitForIt(): Promise<void> {
    const { signal } = this.#stop
    for (let waitMs = firstWaitMs; !signal.aborted; waitMs = Math.min(longestWaitMs, waitMs * 2)) {
      try {
        await this.ping()
        if (this.awaySince) this.#log.info({ since: this.awaySince }, 'the database answers again')
        this.awaySince = null
        this.#returning = null
        this.onBack()
        return
      } catch (error) {
        if (!this.awaySince) {
          this.awaySince = new Date()
          this.#log.error({ err: error }, 'the database does not answer; waiting for it')
        }
        await sleep(waitMs, undefined, { signal }).catch(() => undefined)
      }
    }
  }

  /** Asks the database for a sign of life on a connection of its own; throws when there is none within three seconds. */
  async ping(): Promise<void> {
    await askOnce(this.#url, 'dew-trail-watch', pingMs, 'select 1')
  }
}
