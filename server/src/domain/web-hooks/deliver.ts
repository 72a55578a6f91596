import { createHmac } from 'node:crypto'
import { Agent, request } from 'undici'
import type { Config } from '../../platform/config.ts'
import type { Db } from '../../platform/db/pool.ts'
import { AddressGuard, readRanges } from '../../platform/outside/safe-address.ts'
import type { Secrets } from '../../platform/secrets.ts'
import { type Due, manyDue, markTried } from './queries.ts'

const timeoutMs = 10_000
const mostAtOnce = 200
/** Seconds to wait after each try that failed; after the last it is given up. */
export const waitsAfter = [60, 300, 1_800, 7_200, 43_200] as const

export const secretOf = (siteId: number, hookId: number): string => `hook:${siteId}:${hookId}`
/** HMAC-SHA256 of the time and the body, so that neither can be changed or sent again later unnoticed. */
export const signatureOf = (secret: string, time: string, body: string): string =>
  createHmac('sha256', secret).update(`${time}.${body}`).digest('hex')

type Outcome = { status: number | null; what: string | null }

/** Sends to web hooks: only to public addresses and those that the configuration allows. */
export class HookSender {
  readonly #guard: AddressGuard
  readonly #agent: Agent
  readonly #secrets: Secrets

  constructor(config: Pick<Config, 'HOOKS_ALLOW_PRIVATE'>, secrets: Secrets) {
    this.#guard = new AddressGuard(readRanges(config.HOOKS_ALLOW_PRIVATE))
    this.#agent = new Agent({ connect: { lookup: this.#guard.lookup, timeout: timeoutMs } as never })
    this.#secrets = secrets
  }

  /** Sends what is due, each at most once at a time; gives how many. What fails is tried again later. */
  async sendDue(db: Db): Promise<number> {
    const due = await manyDue(db, mostAtOnce)
    for (const each of due) {
      const outcome = await this.send(db, each)
      const wait = waitsAfter[each.tries]
      await markTried(db, each, {
        ...outcome,
        state: outcome.what === null ? 'delivered' : wait === undefined ? 'failed' : 'waiting',
        againInSeconds: outcome.what === null ? null : (wait ?? null),
      })
    }
    return due.length
  }

  /** Sends one; `what` tells what went wrong. Any answer from 200 to 299 is a good one; redirects are not followed. */
  async send(db: Db, { siteId, id, hookId, domain, address, event, data, madeAt }: Due): Promise<Outcome> {
    const secret = await this.#secrets.read(db, secretOf(siteId, hookId))
    if (secret === null)
      return { status: null, what: 'Its secret is sealed with the key of another installation: add the hook again' }
    const body = JSON.stringify({ id: `${siteId}-${id}`, event, at: madeAt.toISOString(), siteId, site: domain, data })
    const time = String(Math.floor(Date.now() / 1_000))
    try {
      const url = new URL(address)
      await this.#guard.check(url, false)
      const { statusCode, body: answer } = await request(url, {
        dispatcher: this.#agent,
        method: 'POST',
        signal: AbortSignal.timeout(timeoutMs),
        headers: {
          'content-type': 'application/json',
          'user-agent': 'dew-trail',
          'dew-trail-delivery': `${siteId}-${id}`,
          'dew-trail-time': time,
          'dew-trail-signature': signatureOf(secret, time, body),
        },
        body,
      })
      // What it answers is of no use, and may be endless.
      answer.on('error', () => undefined).destroy()
      return {
        status: statusCode,
        what: statusCode >= 200 && statusCode < 300 ? null : `It answered with status ${statusCode}`,
      }
    } catch (error) {
      const { name, message } = error as Error
      return { status: null, what: name === 'TimeoutError' ? `No answer within ${timeoutMs / 1_000} s` : message }
    }
  }

  async close(): Promise<void> {
    await this.#agent.close()
  }
}
