import { readRobots } from '@dew-trail/core/links/robots-rules'
import type pg from 'pg'
import { maybeRobots, type RobotsRow, upsertRobots } from './robots-queries.ts'
import { WebError, type WebClient } from './web-client.ts'

const goodForMs = 24 * 3_600_000
const unreachableForMs = 10 * 60_000
/** RFC 9309: at least 500 kibibytes must be read; the rest of a larger file is left. */
const mostBytes = 500 * 1024
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
        const answer = await this.#web.ask(url, { maxBytes: mostBytes, cut: true })
        status = answer.status
        body = answer.body.toString('utf8')
        if (!answer.location) break
        // More redirects than that count as none being there.
        status = 404
        url = answer.location
      }
    } catch (error) {
      if (!(error instanceof WebError)) throw error
      status = null
    }
    const row = { origin, status, body, fetchedAt: new Date() }
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
    const isThere = row.status !== null && row.status >= 200 && row.status < 300
    const rules = readRobots(isThere ? row.body : '', this.#token)
    return {
      allows: rules.allows,
      crawlDelay: rules.crawlDelay,
      sitemaps: rules.sitemaps.flatMap(each => URL.parse(each, `${origin}/robots.txt`)?.href ?? []),
      why: null,
    }
  }
}

const isFailure = (row: RobotsRow): boolean => row.status === null || row.status >= 500 || row.status === 429
