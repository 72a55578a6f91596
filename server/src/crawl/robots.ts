import { createRequire } from 'node:module'
import type pg from 'pg'
import { maybeRobots, type RobotsRow, upsertRobots } from './queries.ts'
import { WebTrouble, type WebClient } from './web-client.ts'

type Rules = {
  isAllowed(url: string, agent?: string): boolean | undefined
  getCrawlDelay(agent?: string): number | undefined
  getSitemaps(): string[]
}
// Its types declare a module without its exports.
const parseRobots = createRequire(import.meta.url)('robots-parser') as (url: string, text: string) => Rules

const goodForMs = 24 * 3_600_000
const unreachableForMs = 10 * 60_000
/** RFC 9309: at least 500 kibibytes must be read; the rest is left. */
const mostBytes = 512_000
const mostRedirects = 5

export type HostRules = {
  allows(url: string): boolean
  crawlDelay: number | null
  sitemaps: string[]
  why: string | null
}

/** robots.txt by RFC 9309, kept for a day: absent (4xx) allows everything, a server that fails (5xx, no answer) forbids everything for now. */
export class Robots {
  readonly #pool: pg.Pool
  readonly #web: WebClient
  readonly #token: string
  readonly #known = new Map<string, { rules: Promise<HostRules>; untilMs: number }>()

  constructor(pool: pg.Pool, web: WebClient, token: string) {
    this.#pool = pool
    this.#web = web
    this.#token = token
  }

  of(url: string): Promise<HostRules> {
    const { origin } = new URL(url)
    const known = this.#known.get(origin)
    if (known && known.untilMs > Date.now()) return known.rules
    const rules = this.#load(origin)
    this.#known.set(origin, { rules, untilMs: Date.now() + unreachableForMs })
    rules.catch(() => this.#known.delete(origin))
    return rules
  }

  async #load(origin: string): Promise<HostRules> {
    const kept = await maybeRobots(this.#pool, origin)
    const ageMs = kept ? Date.now() - kept.fetchedAt.getTime() : Number.POSITIVE_INFINITY
    const good = kept && ageMs < (isFailure(kept) ? unreachableForMs : goodForMs)
    const row = good ? kept : await this.#fetch(origin)
    return this.#rules(origin, row)
  }

  async #fetch(origin: string): Promise<RobotsRow> {
    let status: number | null = null
    let body = ''
    try {
      let url = `${origin}/robots.txt`
      for (let step = 0; step <= mostRedirects; step++) {
        const answer = await this.#web.ask(url)
        status = answer.status
        body = answer.body.subarray(0, mostBytes).toString('utf8')
        if (!answer.location) break
        // More redirects than that count as none being there.
        status = 404
        url = answer.location
      }
    } catch (error) {
      if (!(error instanceof WebTrouble)) throw error
      status = error.kind === 'large' ? 404 : null
    }
    const row = { origin, status, body: body.replaceAll('\u0000', ''), fetchedAt: new Date() }
    await upsertRobots(this.#pool, row)
    return row
  }

  #rules(origin: string, row: RobotsRow): HostRules {
    if (isFailure(row))
      return {
        allows: () => false,
        crawlDelay: null,
        sitemaps: [],
        why: `robots.txt of ${new URL(origin).host} cannot be read, so nothing there is asked for now`,
      }
    const rules = parseRobots(`${origin}/robots.txt`, row.status === 200 ? row.body : '')
    return {
      allows: url => rules.isAllowed(url, this.#token) !== false,
      crawlDelay: rules.getCrawlDelay(this.#token) ?? null,
      sitemaps: rules.getSitemaps(),
      why: null,
    }
  }
}

const isFailure = (row: RobotsRow): boolean => row.status === null || row.status >= 500 || row.status === 429
