import type pg from 'pg'
import { SharedTurns } from '../../platform/cluster/shared-limits.ts'
import type { Bus } from '../../platform/cluster/bus.ts'
import type { Config } from '../../platform/config.ts'
import { HostGate } from './host-gate.ts'
import { PageReader } from './page-reader.ts'
import type { PageFacts } from './read-body.ts'
import { type HostRules, Robots } from './robots.ts'
import { mostSitemapBytes, type Sitemap } from './read-sitemap.ts'
import { isContent, type WebAnswer, WebClient, WebError } from './web-client.ts'

/** The name rules in robots.txt are looked up for. */
export const agentToken = 'DewTrailBot'
const html = /^(text\/html|application\/xhtml\+xml)/i
const retryWaitMs = 2_000
const longestRetryMs = 60_000

/** What one fetch brought. `refused`: robots.txt or our own rules forbade it. `unchanged`: the page said so. */
export type PageOutcome = {
  url: string
  state: 'fetched' | 'failed' | 'refused'
  status: number | null
  problem: string | null
  redirectTo: string | null
  contentType: string | null
  etag: string | null
  lastModified: string | null
  unchanged: boolean
  /** After how long it is worth another try; null when it is not. */
  retryAfterMs: number | null
  facts: PageFacts | null
}
export type Validators = { etag: string | null; lastModified: string | null }

/** Fetches pages politely: robots.txt, delays by host, then reading in a thread. One for the whole server. */
export class Crawler {
  readonly web: WebClient
  readonly #robots: Robots
  readonly #gate: HostGate
  readonly #reader = new PageReader()

  constructor(config: Config, pool: pg.Pool, bus: Pick<Bus, 'isShared'>) {
    this.web = new WebClient({
      agent: `Mozilla/5.0 (compatible; ${agentToken}/0.1; ${config.CRAWL_CONTACT || 'contact not set'})`,
      proxy: config.CRAWL_PROXY || null,
      proxyTunnel: config.CRAWL_PROXY_TUNNEL,
      timeoutMs: config.CRAWL_TIMEOUT_MS,
      maxBytes: config.CRAWL_MAX_BYTES,
      allowPrivate: config.CRAWL_ALLOW_PRIVATE,
    })
    this.#robots = new Robots(pool, this.web, agentToken)
    const turns = new SharedTurns(pool)
    this.#gate = new HostGate(config.CRAWL_DELAY_MS, config.CRAWL_PER_HOST, () => (bus.isShared ? turns : null))
  }

  /** The rules of the host of an address; its crawl delay counts from now on. */
  async rules(url: string): Promise<HostRules> {
    const rules = await this.#robots.of(url)
    this.#gate.setDelay(new URL(url).host, rules.crawlDelay)
    return rules
  }

  /** The addresses of a sitemap, null where there is none. It is read in a thread, like a page. */
  async sitemap(url: string, signal: AbortSignal): Promise<Sitemap | null> {
    const rules = await this.rules(url)
    if (!rules.allows(url)) return null
    const ask = { signal, maxBytes: mostSitemapBytes, cut: true }
    const answer = await this.#gate.pass(new URL(url).host, signal, () => this.web.ask(url, ask))
    return isContent(answer.status) ? this.#reader.readSitemap(answer.body) : null
  }

  async page(url: string, signal: AbortSignal, validators?: Validators): Promise<PageOutcome> {
    const bare: PageOutcome = {
      url,
      state: 'failed',
      status: null,
      problem: null,
      redirectTo: null,
      contentType: null,
      etag: null,
      lastModified: null,
      unchanged: false,
      retryAfterMs: null,
      facts: null,
    }
    const rules = await this.rules(url)
    if (!rules.allows(url))
      return {
        ...bare,
        state: rules.why ? 'failed' : 'refused',
        problem: rules.why ?? 'robots.txt does not allow it',
      }
    const { host } = new URL(url)
    const headers: Record<string, string> = {}
    if (validators?.etag) headers['if-none-match'] = validators.etag
    if (validators?.lastModified) headers['if-modified-since'] = validators.lastModified
    let answer: WebAnswer
    try {
      answer = await this.#gate.pass(host, signal, () => this.web.ask(url, { headers, types: html, signal }))
    } catch (error) {
      if (!(error instanceof WebError)) throw error
      if (error.kind === 'unsafe') return { ...bare, state: 'refused', problem: error.message }
      return { ...bare, problem: error.message, retryAfterMs: error.kind === 'large' ? null : retryWaitMs }
    }
    const { status } = answer
    if (status === 429 || status >= 500) {
      // Too much for the whole host, which may say until when (RFC 9110, RFC 6585); other failures are the page's own.
      const tooMuch = status === 429 || status === 503
      const waitMs = (tooMuch ? retryAfterMs(answer) : null) ?? retryWaitMs
      if (tooMuch) this.#gate.leaveAlone(host, waitMs)
      return { ...bare, status, problem: `${host} answered with status ${status}`, retryAfterMs: waitMs }
    }
    const known = {
      ...bare,
      state: 'fetched' as const,
      status,
      contentType: answer.headers['content-type'] ?? null,
      etag: answer.headers.etag ?? null,
      lastModified: answer.headers['last-modified'] ?? null,
    }
    if (status === 304) return { ...known, unchanged: true }
    if (answer.location) return { ...known, redirectTo: answer.location }
    if (!isContent(status) || !html.test(known.contentType ?? '')) return known
    let facts: PageFacts
    try {
      facts = await this.#reader.read(answer.body, known.contentType ?? '', url)
    } catch (error) {
      return { ...bare, status, problem: `The page cannot be read: ${(error as Error).message}` }
    }
    const tag = answer.headers['x-robots-tag']
    if (tag) facts.robots.push(...directivesOf(tag))
    return { ...known, facts }
  }

  /** Reads a page that was not fetched by us, such as one of an archive. */
  read(body: Buffer, contentType: string, url: string): Promise<PageFacts> {
    return this.#reader.read(body, contentType, url)
  }

  async close(): Promise<void> {
    await Promise.all([this.web.close(), this.#reader.close()])
  }
}

/** Seconds or an HTTP date; at most a minute is waited, later tries come with the next run. */
function retryAfterMs(answer: WebAnswer): number | null {
  const text = answer.headers['retry-after']
  if (!text) return null
  const seconds = /^\d+$/.test(text) ? Number(text) : (Date.parse(text) - Date.now()) / 1_000
  return Number.isFinite(seconds) ? Math.min(longestRetryMs, Math.max(0, seconds * 1_000)) : null
}

/** Directives of an X-Robots-Tag header that are meant for everybody or for us. */
function directivesOf(header: string): string[] {
  const out: string[] = []
  let forUs = true
  for (const part of header.toLowerCase().split(',')) {
    const named = /^\s*([a-z0-9_-]+)\s*:\s*(.*)$/.exec(part)
    const isRule = named && /^(max-snippet|max-image-preview|max-video-preview|unavailable_after)$/.test(named[1]!)
    if (named && !isRule) forUs = named[1] === agentToken.toLowerCase()
    const directive = (named && !isRule ? named[2]! : part).trim()
    if (forUs && directive) out.push(directive)
  }
  return out
}
