import { randomBytes } from 'node:crypto'
import { readFile, rm, writeFile } from 'node:fs/promises'
import { join } from 'node:path'
import type { Request } from 'express'
import { RateLimiterMemory, RateLimiterPostgres } from 'rate-limiter-flexible'
import type pg from 'pg'
import type { Logger } from 'pino'
import { AppError } from '@dew-trail/contract/errors'
import { type Config, isOpenToOthers } from '../../platform/config.ts'
import { cookieOf } from '../../platform/http/cookie.ts'
import { thisMachine, type Who, whoAsks } from '../../platform/http/who.ts'
import { maybeKeyUser } from './access-keys.ts'
import { noteActivity, type NewActivity } from './activity.ts'
import { countAccounts, maybeSignedIn, saveUses } from './queries.ts'
import { hashToken } from './tokens.ts'

/** Where the code for the first account stands until it was used. */
const codeFile = 'first-account-code'
/** Wrong passwords before an account, or an address, must wait: for a quarter of an hour, and each further one for longer. */
const triesOf = { account: 8, address: 30 } as const
const keyCallsAMinute = 1_200

/**
 * Who makes a request, and how often they may try. What requests use (sessions, keys) and what they take out (exports) is written down
 * each minute, so that a request that reads writes nothing.
 */
export class People {
  readonly #pool: pg.Pool
  readonly #config: Config
  readonly #log: Logger
  readonly #used = { sessions: new Map<number, Date>(), keys: new Map<number, Date>() }
  readonly #waiting: NewActivity[] = []
  readonly #keyCalls = new RateLimiterMemory({ points: keyCallsAMinute, duration: 60 })
  #tries: Record<keyof typeof triesOf, RateLimiterPostgres> | undefined
  #accounts = 0
  #code: string | null = null

  constructor(config: Config, pool: pg.Pool, log: Logger) {
    this.#config = config
    this.#pool = pool
    this.#log = log
  }

  /** Counts the accounts and, where the first is still to be made, has a code ready for it. */
  async open(): Promise<void> {
    const limiter = (points: number, keyPrefix: string): Promise<RateLimiterPostgres> =>
      new Promise((done, fail) => {
        const made: RateLimiterPostgres = new RateLimiterPostgres(
          {
            storeClient: this.#pool,
            storeType: 'pool',
            points,
            duration: 900,
            blockDuration: 900,
            tableName: 'sign_in_try',
            keyPrefix,
            clearExpiredByTimeout: false,
          },
          error => (error ? fail(error) : done(made)),
        )
      })
    this.#tries = {
      account: await limiter(triesOf.account, 'account'),
      address: await limiter(triesOf.address, 'address'),
    }
    await this.lookAgain()
  }
  /** Tells other processes that accounts were made. */
  onChange: () => void = () => undefined

  /** Takes in that accounts were made. */
  async lookAgain(): Promise<void> {
    this.#accounts = await countAccounts(this.#pool)
    const path = join(this.#config.DATA_DIR, codeFile)
    if (this.#accounts || !this.#mustSignIn()) {
      this.#code = null
      await rm(path, { force: true })
      return
    }
    this.#code = await readFile(path, 'utf8').catch(() => null)
    if (this.#code) return
    this.#code = randomBytes(9).toString('base64url')
    await writeFile(path, this.#code, { mode: 0o600 })
    this.#log.warn({ path }, 'nobody has an account yet: the code for the first one stands in this file')
  }

  /** Others can reach the program, or it is set so; a second account on this machine needs it too. */
  #mustSignIn(): boolean {
    return isOpenToOthers(this.#config) || this.#config.SIGN_IN === 'always' || this.#accounts > 1
  }
  /** Whether people have to sign in; `first`: the first account is still to be made. */
  get signIn(): 'none' | 'first' | 'needed' {
    if (!this.#mustSignIn()) return 'none'
    return this.#accounts ? 'needed' : 'first'
  }
  isFirstCode(code: string): boolean {
    return this.#code !== null && hashToken(code).equals(hashToken(this.#code))
  }
  /** Of the cookie that tells browsers apart; `__Host-` keeps other hosts from setting it. */
  get cookie(): { name: string; secure: boolean } {
    const secure =
      this.#config.PUBLIC_ORIGINS.length > 0 && this.#config.PUBLIC_ORIGINS.every(each => each.startsWith('https:'))
    // Behind one address several processes must know each other's cookie.
    const [origin] = this.#config.PUBLIC_ORIGINS
    const port = origin === undefined ? this.#config.PORT : new URL(origin).port || 80
    return { name: secure ? '__Host-dew-trail' : `dew-trail-${port}`, secure }
  }

  /** Who makes a request; null: nobody signed in. Throws `notSignedIn` for an access key that is none (any more). */
  async find(request: Request): Promise<Who | null> {
    const address = request.ip ?? ''
    const bearer = /^Bearer (.+)$/i.exec(request.headers.authorization ?? '')?.[1]
    if (bearer !== undefined) {
      // The demo is loaded by what started the program: its key is made anew at each start.
      if (this.#config.START_KEY && hashToken(bearer.trim()).equals(hashToken(this.#config.START_KEY)))
        return { ...thisMachine(address), name: 'the demo' }
      const key = await maybeKeyUser(this.#pool, hashToken(bearer.trim()))
      if (!key) throw new AppError('notSignedIn', 'This access key is not known, or was ended.')
      await this.#keyCalls.consume(key.id).catch(() => {
        throw new AppError(
          'tooOften',
          `More than ${keyCallsAMinute} calls a minute with this access key. Wait a moment.`,
        )
      })
      this.#used.keys.set(key.id, new Date())
      const { inSite, role } = key
      return {
        name: `key "${key.name}"`,
        accountId: null,
        sessionId: null,
        isAdministrator: false,
        everySite: inSite === null ? role : null,
        sites: inSite === null ? new Map() : new Map([[inSite, role]]),
        address,
      }
    }
    if (this.signIn === 'none') return thisMachine(address)
    const token = cookieOf(request, this.cookie.name)
    const person = token ? await maybeSignedIn(this.#pool, hashToken(token)) : undefined
    if (!person) return null
    this.#used.sessions.set(person.sessionId, new Date())
    return {
      name: person.name,
      accountId: person.accountId,
      sessionId: person.sessionId,
      isAdministrator: person.isAdministrator,
      everySite: person.isAdministrator ? 'owner' : null,
      sites: new Map(Object.entries(person.sites ?? {}).map(([siteId, role]) => [Number(siteId), role])),
      address,
    }
  }

  /** Counts a try to sign in. Throws `tooOften` where an account or an address had too many wrong ones. */
  async countTry(account: string, address: string): Promise<{ right(): Promise<void> }> {
    const { account: byAccount, address: byAddress } = this.#tries!
    try {
      await byAddress.consume(address)
      await byAccount.consume(account)
    } catch (error) {
      if (error instanceof Error) throw error
      const seconds = Math.ceil(Number((error as { msBeforeNext?: number }).msBeforeNext ?? 900_000) / 1_000)
      throw new AppError('tooOften', `Too many tries. Wait ${Math.ceil(seconds / 60)} minutes, then try again.`, {
        seconds,
      })
    }
    return { right: async () => void (await Promise.all([byAccount.delete(account), byAddress.delete(address)])) }
  }

  /** Notes that who asks took something out, a little later. */
  noteExport(siteId: number | null, what: string): void {
    const who = whoAsks()
    if (who) this.#waiting.push({ kind: 'export', siteId, what, who })
  }
  /** Writes down what was used and noted since the last time. */
  async flush(): Promise<void> {
    const uses = { sessions: new Map(this.#used.sessions), keys: new Map(this.#used.keys) }
    this.#used.sessions.clear()
    this.#used.keys.clear()
    const activities = this.#waiting.splice(0)
    await saveUses(this.#pool, uses)
    for (const each of activities) await noteActivity(this.#pool, each)
  }
}
