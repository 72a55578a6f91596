import { setTimeout as sleep } from 'node:timers/promises'
import PQueue from 'p-queue'
import type { Logger } from 'pino'
import { Agent, request } from 'undici'
import type { z } from 'zod'
import type { SharedRate } from '../platform/cluster/shared-limits.ts'
import { SourceError } from '../platform/outside/source-error.ts'

export type SourceSettings = {
  name: string
  url: string
  key: string
  perSecond: number
  concurrency: number
  timeoutMs: number
  tries: number
}
export type SourceUse = { requests: number; failures: number; limited: number; lastFailure: string | null }
type Ask<T extends z.ZodType> = {
  path: string
  query?: Record<string, string | number>
  body?: unknown
  reply: T
  type?: RegExp
  signal?: AbortSignal
  absentOn404?: boolean
}

const mostBytes = 20_000_000

/**
 * One outside service: asks at most so often a second, tries again with growing waits, waits as long as Retry-After says (for
 * everybody who asks it), gives up after the time-out, counts what it uses, and lets nothing through that is not shaped as agreed.
 */
export class SourceClient {
  readonly settings: SourceSettings
  /** What the service knows us by. */
  key: string
  /** Most requests a day (UTC); `null` = as many as the source lets us. What was asked today counts across restarts. */
  mostADay: number | null = null
  readonly #today = { day: '', requests: 0 }
  readonly use: SourceUse = { requests: 0, failures: 0, limited: 0, lastFailure: null }
  readonly #queue: PQueue
  readonly #agent: Agent
  readonly #log: Logger
  #openAgain: NodeJS.Timeout | null = null

  /** While several processes ask the source: what keeps their rate together, and who is told that it asked to be left alone. */
  shared: { isOn(): boolean; rate: SharedRate; onHold(ms: number): void } | null = null

  constructor(settings: SourceSettings, log: Logger) {
    this.settings = settings
    this.key = settings.key
    this.#log = log
    // The rate is kept in tenths of a second, so that a second's worth does not go out in one burst.
    const cap = Math.max(1, Math.round(settings.perSecond / 10))
    this.#queue = new PQueue({
      concurrency: settings.concurrency,
      interval: (1000 * cap) / settings.perSecond,
      intervalCap: cap,
    })
    this.#agent = new Agent({
      connections: settings.concurrency,
      headersTimeout: settings.timeoutMs,
      bodyTimeout: settings.timeoutMs,
      connect: { timeout: settings.timeoutMs },
    })
  }

  /** Asks and gives the checked reply; `null` only where the service says 404 and that means "there is none". Throws SourceError. */
  async ask<T extends z.ZodType>(ask: Ask<T>): Promise<z.output<T> | null> {
    let last: SourceError | undefined
    for (let attempt = 1; attempt <= this.settings.tries; attempt++) {
      ask.signal?.throwIfAborted()
      try {
        return await this.#queue.add(() => this.#once(ask), ask.signal ? { signal: ask.signal } : {})
      } catch (error) {
        if (!(error instanceof SourceError)) throw error
        last = error
        this.use.failures++
        this.use.lastFailure = error.message
        if (error.lasting || attempt === this.settings.tries) break
        if (error.retryAfterMs !== undefined) {
          this.hold(error.retryAfterMs)
          this.shared?.onHold(error.retryAfterMs)
        } else
          await sleep(
            200 * 2 ** (attempt - 1) * (0.75 + 0.5 * Math.random()),
            undefined,
            ask.signal ? { signal: ask.signal } : {},
          )
      }
    }
    this.#log.warn({ source: this.settings.name, path: ask.path, kind: last?.kind }, last?.message)
    throw last
  }

  /** Says what was asked on a day before this program started. */
  countUsed(day: string, requests: number): void {
    Object.assign(this.#today, { day, requests })
  }

  /** Counts a request; throws when the limit of the day does not allow it. Where others ask too it waits for leave. */
  async #count(signal: AbortSignal | undefined): Promise<void> {
    const day = new Date().toISOString().slice(0, 10)
    if (this.#today.day !== day) this.countUsed(day, 0)
    const { name } = this.settings
    const isOver = this.shared?.isOn()
      ? !(await this.shared.rate.take(this.mostADay, signal))
      : this.mostADay !== null && this.#today.requests >= this.mostADay
    if (isOver)
      throw new SourceError(
        name,
        'quotaUsed',
        `${name}: your limit of ${this.mostADay} requests a day is reached; it can be changed on Sources`,
        true,
      )
    this.#today.requests++
    this.use.requests++
  }

  /** Stops everybody from asking until the source may be asked again. */
  hold(delayMs: number): void {
    this.use.limited++
    this.#queue.pause()
    if (this.#openAgain) clearTimeout(this.#openAgain)
    this.#openAgain = setTimeout(() => this.#queue.start(), delayMs)
  }

  async #once<T extends z.ZodType>(ask: Ask<T>): Promise<z.output<T> | null> {
    const { name, url, timeoutMs } = this.settings
    const address = new URL(ask.path, url)
    for (const [field, value] of Object.entries(ask.query ?? {})) address.searchParams.set(field, String(value))
    await this.#count(ask.signal)
    const fail = (kind: SourceError['kind'], message: string, lasting: boolean, retryAfterMs?: number): SourceError =>
      new SourceError(name, kind, message, lasting, retryAfterMs)
    let text: string
    let status: number
    let headers: Record<string, string | string[] | undefined>
    const timeout = AbortSignal.timeout(timeoutMs)
    try {
      const response = await request(address, {
        dispatcher: this.#agent,
        method: ask.body === undefined ? 'GET' : 'POST',
        signal: ask.signal ? AbortSignal.any([timeout, ask.signal]) : timeout,
        headers: {
          authorization: `Bearer ${this.key}`,
          accept: 'application/json',
          ...(ask.body === undefined ? {} : { 'content-type': 'application/json' }),
        },
        ...(ask.body === undefined ? {} : { body: JSON.stringify(ask.body) }),
      })
      status = response.statusCode
      headers = response.headers
      if (Number(headers['content-length'] ?? 0) > mostBytes) {
        response.body.destroy()
        throw fail('badReply', `${name} sent more than ${mostBytes / 1e6} MB`, true)
      }
      text = await response.body.text()
    } catch (error) {
      if (error instanceof SourceError) throw error
      if (ask.signal?.aborted) throw ask.signal.reason
      if (timeout.aborted || /timeout/i.test((error as Error).name + (error as { code?: string }).code))
        throw fail('timeout', `${name} did not answer within ${timeoutMs / 1000} s`, false)
      throw fail(
        'unavailable',
        `${name} cannot be reached (${(error as { code?: string }).code ?? (error as Error).message})`,
        false,
      )
    }
    if (status === 404 && ask.absentOn404) return null
    if (status === 429)
      throw fail('limited', `${name} asked us to slow down`, false, retryAfterMs(headers['retry-after']))
    if (status === 403 && text.includes('quota')) throw fail('quotaUsed', `${name}: today's quota is used up`, true)
    if (status >= 500)
      throw fail(
        'unavailable',
        `${name} is not available (status ${status})`,
        false,
        headers['retry-after'] === undefined ? undefined : retryAfterMs(headers['retry-after']),
      )
    if (status >= 400) throw fail('refused', `${name} refused the request (status ${status})`, true)
    if (!(ask.type ?? /json/).test(String(headers['content-type'])))
      throw fail('badReply', `${name} sent ${headers['content-type']} instead of data`, false)
    let value: unknown
    try {
      value = JSON.parse(text)
    } catch {
      throw fail('badReply', `${name} sent a broken reply`, false)
    }
    const parsed = ask.reply.safeParse(value)
    if (!parsed.success)
      throw fail(
        'badReply',
        `${name} sent data of another shape (${parsed.error.issues[0]?.path.join('.')}: ${parsed.error.issues[0]?.message})`,
        false,
      )
    return parsed.data
  }

  async close(): Promise<void> {
    if (this.#openAgain) clearTimeout(this.#openAgain)
    this.#queue.clear()
    await this.#agent.destroy()
  }
}

/** Milliseconds that a Retry-After header (RFC 9110, seconds or a date) asks to wait; a second where it is missing or odd, a minute at most. */
export function retryAfterMs(header: string | string[] | undefined): number {
  const text = Array.isArray(header) ? header[0] : header
  if (text === undefined) return 1_000
  const seconds = Number(text)
  const delay = Number.isFinite(seconds) ? seconds * 1_000 : Date.parse(text) - Date.now()
  return Number.isFinite(delay) ? Math.min(60_000, Math.max(0, delay)) : 1_000
}
