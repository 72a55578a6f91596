import { createServer, type IncomingMessage, type Server, type ServerResponse } from 'node:http'
import { Readable } from 'node:stream'
import { dayOf } from './calendar.ts'
import type { Faults } from './faults.ts'
import { Limits, serviceLimits } from './limits.ts'
import { AdsData } from './services/ads.ts'
import { type FeedName, linkRows, linkTotals, rdapDomain } from './services/feed.ts'
import { Completions, positionHistory, queryLogRows, search } from './services/search.ts'
import { type Device, type Engine, engines, type Language, places } from './world/vocabulary.ts'
import type { World } from './world/world.ts'

export type StandinOptions = { faults: Faults; throttled: boolean; key: string }
class BadRequest extends Error {}

const readBody = async (request: IncomingMessage): Promise<Record<string, unknown>> => {
  const chunks: Buffer[] = []
  let size = 0
  for await (const chunk of request) {
    size += (chunk as Buffer).length
    if (size > 2_000_000) throw new BadRequest('The body is over 2 MB')
    chunks.push(chunk as Buffer)
  }
  try {
    return JSON.parse(Buffer.concat(chunks).toString('utf8') || '{}') as Record<string, unknown>
  } catch {
    throw new BadRequest('The body is not JSON')
  }
}

/** The outside world's HTTP port: every service under its own path, as separate services would speak. */
export function createStandin(world: World, options: StandinOptions): Server {
  const ads = new AdsData(world)
  const completions = new Completions(world)
  const limits = new Limits(options.throttled)

  const texts = (value: unknown, name: string, most: number): string[] => {
    if (!Array.isArray(value) || !value.every(item => typeof item === 'string'))
      throw new BadRequest(`"${name}" must be a list of texts`)
    if (value.length > most) throw new BadRequest(`"${name}" takes at most ${most} at a time`)
    return value
  }
  const dayFrom = (value: unknown): number => {
    if (value === null || value === undefined || value === '') return world.today
    if (typeof value !== 'string' || !/^\d{4}-\d\d-\d\d$/.test(value)) throw new BadRequest('"date" must be YYYY-MM-DD')
    const day = dayOf(value)
    if (day > world.today) throw new BadRequest('"date" lies in the future')
    return day
  }
  const placeFrom = (value: unknown): string => {
    const code = typeof value === 'string' && value ? value : 'tarrow'
    if (!places.some(place => place.code === code))
      throw new BadRequest(`"place" must be one of ${places.map(place => place.code).join(', ')}`)
    return code
  }
  const languageFrom = (value: unknown): Language => {
    if (value !== 'en' && value !== 'de') throw new BadRequest('"language" must be en or de')
    return value
  }

  async function answer(
    service: string,
    path: string[],
    url: URL,
    request: IncomingMessage,
  ): Promise<{ body: object; status?: number; type?: string } | Readable> {
    const ask = url.searchParams
    if (service === 'engines') {
      if (!engines.includes(path[0] as Engine) || path[1] !== 'search')
        throw new BadRequest(`There is no engine at /${service}/${path.join('/')}`)
      const query = ask.get('q') ?? ''
      if (!query.trim()) throw new BadRequest('"q" is empty')
      const device = ask.get('device') ?? 'desktop'
      if (device !== 'desktop' && device !== 'mobile') throw new BadRequest('"device" must be desktop or mobile')
      const depth = Number(ask.get('num') ?? 10)
      if (!Number.isInteger(depth) || depth < 1 || depth > 100) throw new BadRequest('"num" must be 1 to 100')
      return {
        body: search(world, {
          engine: path[0] as Engine,
          query,
          place: placeFrom(ask.get('place')),
          language: languageFrom(ask.get('language')),
          device: device as Device,
          day: dayFrom(ask.get('date')),
          depth,
        }),
      }
    }
    if (service === 'completions') {
      const query = ask.get('q') ?? ''
      return {
        body: [query, completions.suggest(query, languageFrom(ask.get('language')))],
        type: 'application/x-suggestions+json',
      }
    }
    if (service === 'ads') {
      const body = await readBody(request)
      const place = placeFrom(body.place)
      const language = languageFrom(body.language)
      if (path[0] === 'figures') {
        const keywords = texts(body.keywords, 'keywords', 1_000)
        return {
          body: {
            figures: keywords.map(
              text =>
                ads.figures(text, place, language, world.today) ?? {
                  text: text.toLowerCase().replace(/\s+/g, ' ').trim(),
                  average: null,
                  monthly: [],
                  competition: null,
                  competition_index: null,
                  cpc_micros: null,
                  low_bid_micros: null,
                  high_bid_micros: null,
                  as_of: new Date(world.today * 86_400_000).toISOString().slice(0, 10),
                },
            ),
          },
        }
      }
      if (path[0] === 'ideas') {
        const size = Math.min(1_000, Math.max(1, Number(body.page_size ?? 500)))
        const { ideas, next } = ads.ideas(
          texts(body.seeds, 'seeds', 20),
          place,
          language,
          world.today,
          Number(body.page_token ?? 0) || 0,
          size,
        )
        return { body: { ideas, next_page_token: next === null ? null : String(next) } }
      }
    }
    if (service === 'feeds' && (path[0] === 'north' || path[0] === 'south')) {
      const feed = path[0] as FeedName
      if (path[1] === 'totals') {
        const body = await readBody(request)
        return {
          body: {
            totals: texts(body.targets, 'targets', 200).map(target => linkTotals(world, feed, target, world.today)),
          },
        }
      }
      if (path[1] === 'links') {
        const { links, next } = linkRows(
          world,
          feed,
          ask.get('target') ?? '',
          world.today,
          Number(ask.get('cursor') ?? 0) || 0,
          1_000,
        )
        return { body: { links, next_cursor: next === null ? null : String(next) } }
      }
    }
    if (service === 'registry' && path[0] === 'domain' && path[1]) {
      const found = rdapDomain(world, path[1].toLowerCase())
      return found
        ? { body: found, type: 'application/rdap+json' }
        : {
            body: { errorCode: 404, title: 'Not Found', description: ['Nobody has registered this domain'] },
            status: 404,
            type: 'application/rdap+json',
          }
    }
    if (service === 'querylog' && path[0] === 'rows')
      return { body: { rows: queryLogRows(world, ask.get('site') ?? '', dayFrom(ask.get('date'))) } }
    if (service === 'history' && path[0] === 'positions.csv') {
      const to = dayFrom(ask.get('to'))
      return Readable.from(
        positionHistory(
          world,
          ask.get('site') ?? '',
          Math.min(2_000, Number(ask.get('keywords') ?? 100) || 100),
          dayFrom(ask.get('from')),
          to,
        ),
      )
    }
    return { body: { error: { code: 'not_found', message: `Nothing at ${url.pathname}` } }, status: 404 }
  }

  return createServer((request: IncomingMessage, response: ServerResponse) => {
    const send = (
      status: number,
      body: object,
      type = 'application/json',
      headers: Record<string, string> = {},
    ): void => {
      response.writeHead(status, { 'content-type': `${type}; charset=utf-8`, ...headers })
      response.end(JSON.stringify(body))
    }
    const url = new URL(request.url ?? '/', 'http://standin')
    const [service = '', ...path] = url.pathname.split('/').filter(Boolean).map(decodeURIComponent)
    if (service === 'health')
      return send(200, {
        ready: true,
        today: new Date(world.today * 86_400_000).toISOString().slice(0, 10),
        keywords: world.keywords.length,
        pages: world.pages.length,
        links: world.links.count,
      })
    if (!(service in serviceLimits))
      return send(404, { error: { code: 'not_found', message: `No service at /${service}` } })
    if (request.headers.authorization !== `Bearer ${options.key}`)
      return send(401, { error: { code: 'bad_key', message: 'The key is missing or not known' } })
    const quotaGone = (): void => send(403, { error: { code: 'quota_used', message: 'The quota of today is used up' } })
    const wait = limits.take(service, Date.now())
    if (wait < 0) return quotaGone()
    if (wait > 0)
      return send(429, { error: { code: 'too_many', message: 'Too many requests' } }, 'application/json', {
        'retry-after': String(wait),
      })
    const fault = options.faults.pick(service, `${request.method} ${request.url}`)
    if (fault === 'tooMany')
      return send(429, { error: { code: 'too_many', message: 'Too many requests' } }, 'application/json', {
        'retry-after': '1',
      })
    if (fault === 'serverError') return send(503, { error: { code: 'unavailable', message: 'Try again later' } })
    if (fault === 'quota') return quotaGone()
    if (fault === 'contentType') {
      response.writeHead(200, { 'content-type': 'text/html' })
      response.end('<h1>Please try again</h1>')
      return
    }
    if (fault === 'timeout') return
    answer(service, path, url, request).then(
      result => {
        if (result instanceof Readable) {
          response.writeHead(200, { 'content-type': 'text/csv; charset=utf-8' })
          result.pipe(response)
          return
        }
        if (fault === 'truncated') {
          response.writeHead(200, { 'content-type': 'application/json' })
          response.end(JSON.stringify(result.body).slice(0, 40))
          return
        }
        send(result.status ?? 200, result.body, result.type)
      },
      error =>
        error instanceof BadRequest
          ? send(400, { error: { code: 'bad_request', message: error.message } })
          : send(500, { error: { code: 'internal', message: String(error) } }),
    )
  })
}
