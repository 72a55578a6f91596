import type { Engine } from '@dew-trail/contract/sources'
import type pg from 'pg'
import type { Logger } from 'pino'
import { z } from 'zod'
import type { Config } from '../platform/config.ts'
import type { Secrets } from '../platform/secrets.ts'
import type { Bus } from '../platform/cluster/bus.ts'
import { SharedRate } from '../platform/cluster/shared-limits.ts'
import { SourceClient } from './source-client.ts'
import { addSourceUse, manyLimits, manyUses, saveLimit } from './queries.ts'
import {
  counted,
  searchReply,
  completionReply,
  figure,
  total,
  advertisedReply,
  logReply,
  enginesReply,
  feedsReply,
  feedReply,
  rankingsReply,
  rdap,
  type SearchReply,
  type AdsFigure,
  type LinkTotal,
  type Advertised,
  type LogRow,
  type RankingsReply,
} from './source-replies.ts'

export type SearchMarket = { engine: string; place: string; language: string; device: string }
type Signal = AbortSignal | undefined

const secretOf = (source: string): string => `source:${source}`
const withSignal = (signal: Signal): { signal?: AbortSignal } => (signal ? { signal } : {})

/** The outside services the program asks, each behind its own client. Replies are checked at this edge and trusted inside. */
export class Sources {
  readonly clients: Record<
    'engines' | 'completions' | 'ads' | 'feeds' | 'rankings' | 'registry' | 'querylog' | 'maps',
    SourceClient
  >
  readonly #pool: pg.Pool
  readonly #secrets: Secrets
  readonly #givenKey: string
  readonly #timer: NodeJS.Timeout
  #turn: Promise<void> = Promise.resolve()
  #engines: { engines: Engine[]; untilMs: number } | undefined

  #bus: Bus | null = null

  constructor(config: Config, pool: pg.Pool, log: Logger, secrets: Secrets) {
    this.#pool = pool
    this.#secrets = secrets
    this.#givenKey = config.SOURCE_KEY
    const client = (name: string, perSecond: number, concurrency: number): SourceClient =>
      new SourceClient(
        {
          name,
          url: config.SOURCE_URL,
          key: config.SOURCE_KEY,
          perSecond,
          concurrency,
          timeoutMs: config.SOURCE_TIMEOUT_MS,
          tries: config.SOURCE_TRIES,
        },
        log,
      )
    this.clients = {
      engines: client('The search engine', config.RATE_ENGINES, 8),
      completions: client('Completions', config.RATE_COMPLETIONS, 8),
      ads: client('Ads data', config.RATE_ADS, 4),
      feeds: client('The link feed', config.RATE_FEEDS, 6),
      rankings: client('The rankings feed', config.RATE_RANKINGS, 3),
      registry: client('The registry', config.RATE_REGISTRY, 6),
      querylog: client('The query log', config.RATE_QUERYLOG, 2),
      maps: client('The town map', config.RATE_MAPS, 4),
    }
    this.#timer = setInterval(
      () => void this.saveUse().catch(error => log.warn({ err: error }, 'source use not saved')),
      2_000,
    )
    this.#timer.unref()
  }

  /** The engines that there are; they are asked for once an hour at most. */
  async engines(): Promise<Engine[]> {
    const known = this.#engines
    if (known && known.untilMs > performance.now()) return known.engines
    const reply = await this.clients.engines.ask({ path: '/engines', reply: enginesReply })
    this.#engines = { engines: reply!.engines, untilMs: performance.now() + 3_600_000 }
    return reply!.engines
  }
  /** Names of the link feeds that there are. */
  async feeds(signal?: Signal): Promise<string[]> {
    const reply = await this.clients.feeds.ask({ path: '/feeds', reply: feedsReply, ...withSignal(signal) })
    return reply!.feeds.map(each => each.feed)
  }

  async search(market: SearchMarket, phrase: string, depth: number, signal?: Signal): Promise<SearchReply> {
    const reply = await this.clients.engines.ask({
      path: `/engines/${market.engine}/search`,
      query: { q: phrase, place: market.place, language: market.language, device: market.device, num: depth },
      reply: searchReply,
      ...withSignal(signal),
    })
    return reply!
  }

  /** How many pages an engine says have a phrase in their text or titles; null where it does not say. */
  async countResults(
    market: SearchMarket,
    phrase: string,
    where: 'text' | 'title',
    signal?: Signal,
  ): Promise<number | null> {
    const reply = await this.clients.engines.ask({
      path: `/engines/${market.engine}/count`,
      query: { q: phrase, place: market.place, language: market.language, in: where },
      reply: z.object({ total: counted }),
      ...withSignal(signal),
    })
    return reply!.total
  }

  /** What searchers of the market's engine type after some words, the most asked first. */
  async complete(market: SearchMarket, typed: string, signal?: Signal): Promise<string[]> {
    const reply = await this.clients.completions.ask({
      path: '/completions',
      query: { q: typed, engine: market.engine, place: market.place, language: market.language },
      reply: completionReply,
      ...withSignal(signal),
    })
    return reply![1]
  }

  /** Figures for at most 1,000 keywords; those the source has nothing about come with a null average. */
  async figures(market: SearchMarket, phrases: string[], signal?: Signal): Promise<AdsFigure[]> {
    const reply = await this.clients.ads.ask({
      path: '/ads/figures',
      body: { keywords: phrases, place: market.place, language: market.language },
      reply: z.object({ figures: z.array(figure) }),
      ...withSignal(signal),
    })
    return reply!.figures
  }

  async ideas(
    market: SearchMarket,
    seeds: string[],
    pageToken: string | null,
    signal?: Signal,
  ): Promise<{ ideas: AdsFigure[]; next: string | null }> {
    const reply = await this.clients.ads.ask({
      path: '/ads/ideas',
      body: {
        seeds,
        place: market.place,
        language: market.language,
        page_size: 500,
        ...(pageToken ? { page_token: pageToken } : {}),
      },
      reply: z.object({ ideas: z.array(figure), next_page_token: z.string().nullable() }),
      ...withSignal(signal),
    })
    return { ideas: reply!.ideas, next: reply!.next_page_token }
  }

  /** What a site advertised on in a month, the newest by default, most spent first; at most `most` keywords. */
  async advertised(
    domain: string,
    market: SearchMarket,
    most: number,
    month: string | null = null,
    signal?: Signal,
  ): Promise<Advertised> {
    const rows: Advertised['rows'] = []
    let cursor: string | null = null
    for (;;) {
      const reply: z.output<typeof advertisedReply> = (await this.clients.ads.ask({
        path: '/ads/advertised',
        query: {
          site: domain,
          place: market.place,
          language: market.language,
          ...(month ? { month } : {}),
          ...(cursor ? { cursor } : {}),
        },
        reply: advertisedReply,
        ...withSignal(signal),
      }))!
      for (const { text, position, spend_micros } of reply.keywords)
        if (position !== null && spend_micros !== null) rows.push({ text, position, spend: spend_micros / 1e6 })
      cursor = reply.next_cursor
      if (!cursor || rows.length >= most) return { month: reply.month, rows: rows.slice(0, most) }
    }
  }

  /** Link totals of at most 200 domains or addresses. */
  async linkTotals(targets: string[], signal?: Signal): Promise<LinkTotal[]> {
    const reply = await this.clients.feeds.ask({
      path: '/feeds/north/totals',
      body: { targets },
      reply: z.object({ totals: z.array(total) }),
      ...withSignal(signal),
    })
    return reply!.totals
  }

  /** Links to a target that a feed knows, gone ones too, at most 5,000 at a time. */
  async feedLinks(
    feed: string,
    target: string,
    cursor: string | null,
    signal?: Signal,
  ): Promise<z.output<typeof feedReply>> {
    const reply = await this.clients.feeds.ask({
      path: `/feeds/${feed}/links`,
      query: { target, num: 5_000, ...(cursor ? { cursor } : {}) },
      reply: feedReply,
      ...withSignal(signal),
    })
    return reply!
  }

  /** Keywords for which a target stands in an edition of the rankings feed, at most 5,000 at a time; `month` null: the current one. */
  async rankings(
    market: SearchMarket,
    target: string,
    { edition, month, cursor }: { edition: 'weekly' | 'full'; month: string | null; cursor: string | null },
    signal?: Signal,
  ): Promise<RankingsReply> {
    const { place, language, device } = market
    const reply = await this.clients.rankings.ask({
      path: `/rankings/${market.engine}`,
      query: {
        target,
        place,
        language,
        device,
        edition,
        num: 5_000,
        ...(month ? { month } : {}),
        ...(cursor ? { cursor } : {}),
      },
      reply: rankingsReply,
      ...withSignal(signal),
    })
    return reply!
  }

  /** Day a domain was registered, `null` when the registry knows none. */
  async registeredOn(domain: string, signal?: Signal): Promise<string | null> {
    const reply = await this.clients.registry.ask({
      path: `/registry/domain/${encodeURIComponent(domain)}`,
      reply: rdap,
      absentOn404: true,
      ...withSignal(signal),
    })
    return reply?.events.find(event => event.eventAction === 'registration')?.eventDate.slice(0, 10) ?? null
  }

  /** Whether the registry has an entry for a domain. */
  async isRegistered(domain: string, signal?: Signal): Promise<boolean> {
    const reply = await this.clients.registry.ask({
      path: `/registry/domain/${encodeURIComponent(domain)}`,
      reply: rdap,
      absentOn404: true,
      ...withSignal(signal),
    })
    return reply !== null
  }

  /** Properties whose query log the key may read, each with the last day that is complete. */
  async logProperties(signal?: Signal): Promise<Array<{ id: string; name: string; last_day: string }>> {
    const reply = await this.clients.querylog.ask({
      path: '/querylog/properties',
      reply: z.object({ properties: z.array(z.object({ id: z.string(), name: z.string(), last_day: z.iso.date() })) }),
      ...withSignal(signal),
    })
    return reply!.properties
  }

  /** Rows of the own query log by query, country and device between two days, 25,000 at a time. */
  async logRows(
    property: string,
    from: string,
    to: string,
    start: number,
    byPage: boolean,
    signal?: Signal,
  ): Promise<{ rows: LogRow[]; total: number }> {
    const reply = await this.clients.querylog.ask({
      path: '/querylog/query',
      body: {
        property,
        from,
        to,
        dimensions: ['query', 'country', 'device', ...(byPage ? ['page'] : [])],
        start,
        limit: 25_000,
      },
      reply: logReply,
      ...withSignal(signal),
    })
    return reply!
  }

  /** Takes over the limits that were set and what was asked today before this program started. */
  async open(): Promise<void> {
    const [limits, uses] = await Promise.all([manyLimits(this.#pool), manyUses(this.#pool, 2)])
    const day = new Date().toISOString().slice(0, 10)
    for (const [source, client] of Object.entries(this.clients)) {
      client.mostADay = limits.get(source) ?? null
      client.key = (await this.#secrets.read(this.#pool, secretOf(source))) ?? this.#givenKey
      client.countUsed(day, uses.find(use => use.source === source && use.day === day)?.requests ?? 0)
    }
  }

  /** Keeps limits together with other processes, and hears from them what was set and which source asked to be left alone. */
  share(bus: Bus): void {
    for (const [source, client] of Object.entries(this.clients))
      client.shared = {
        isOn: () => bus.isShared,
        rate: new SharedRate(this.#pool, source, client.settings.perSecond),
        onHold: ms => void bus.tell([{ kind: 'hold', source, ms }]).catch(() => undefined),
      }
    this.#bus = bus
    bus.onMessage(message => {
      if (message.kind === 'hold') this.clients[message.source as keyof Sources['clients']]?.hold(message.ms)
      if (message.kind === 'sources') void this.open().catch(() => undefined)
    })
  }
  #tellSet(): void {
    void this.#bus?.tell([{ kind: 'sources' }]).catch(() => undefined)
  }

  /** Sets the key of a source, now and for later starts; null: the one of the configuration. */
  async setKey(source: keyof Sources['clients'], key: string | null): Promise<void> {
    await this.#secrets.save(this.#pool, secretOf(source), key)
    this.clients[source].key = key ?? this.#givenKey
    this.#tellSet()
  }
  /** Sources whose key was typed in the program, and those of them that are sealed with the key of another installation. */
  async typedKeys(): Promise<{ typed: Set<string>; unreadable: Set<string> }> {
    const { rows } = await this.#pool.query<{ name: string }>(
      "select name from sealed_secret where name like 'source:%'",
    )
    const nameOf = (secret: string): string => secret.slice(secretOf('').length)
    return {
      typed: new Set(rows.map(row => nameOf(row.name))),
      unreadable: new Set((await this.#secrets.sealedElsewhere(this.#pool)).map(nameOf)),
    }
  }
  /** Makes the smallest request to a source. Throws SourceError with what it says. */
  async test(source: keyof Sources['clients'], domain: string, market: SearchMarket): Promise<void> {
    const tests: Record<keyof Sources['clients'], () => Promise<unknown>> = {
      engines: () => this.clients.engines.ask({ path: '/engines', reply: enginesReply }),
      completions: () => this.complete(market, 'a'),
      ads: () => this.figures(market, ['a']),
      feeds: () => this.feeds(),
      rankings: () => this.rankings(market, domain, { edition: 'weekly', month: null, cursor: null }),
      registry: () => this.isRegistered(domain),
      querylog: () => this.logProperties(),
      maps: () => this.clients.maps.ask({ path: '/maps/places', reply: z.unknown() }),
    }
    await tests[source]()
  }

  /** Sets the most requests a day of a source, now and for later starts. */
  async limit(source: keyof Sources['clients'], mostADay: number | null): Promise<void> {
    await saveLimit(this.#pool, source, mostADay)
    this.clients[source].mostADay = mostADay
    this.#tellSet()
  }

  /** Writes down what was used since the last time, so that quota survives a restart. */
  saveUse(): Promise<void> {
    return this.#inTurn(() => this.#writeUse())
  }
  /** Runs `read` while nothing of the use is being written down: what is written and what is not yet are the whole then. */
  readUse<T>(read: () => Promise<T>): Promise<T> {
    return this.#inTurn(read)
  }
  #inTurn<T>(work: () => Promise<T>): Promise<T> {
    const done = this.#turn.then(work)
    this.#turn = done.then(
      () => undefined,
      () => undefined,
    )
    return done
  }
  async #writeUse(): Promise<void> {
    for (const [source, client] of Object.entries(this.clients)) {
      const { requests, failures, limited, lastFailure } = client.use
      if (!requests && !failures) continue
      Object.assign(client.use, { requests: 0, failures: 0, limited: 0, lastFailure: null })
      await addSourceUse(this.#pool, { source, requests, failures, limited, lastFailure })
    }
  }

  async close(): Promise<void> {
    clearInterval(this.#timer)
    await this.saveUse().catch(() => undefined)
    await Promise.all(Object.values(this.clients).map(client => client.close()))
  }
}
