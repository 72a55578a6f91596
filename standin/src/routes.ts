import type { IncomingMessage } from 'node:http'
import { Readable } from 'node:stream'
import {
  BadRequest,
  dayFrom,
  deviceFrom,
  engineFrom,
  languageFrom,
  monthFrom,
  numberFrom,
  placeFrom,
  pointFrom,
  readObject,
  textFrom,
  textsFrom,
} from './ask.ts'
import { isoOf, monthIso, monthOf } from './calendar.ts'
import { understand } from './rank/understand.ts'
import { AdsData } from './services/ads.ts'
import { Completions } from './services/completions.ts'
import { engineList } from './services/engine-list.ts'
import { search } from './services/engines.ts'
import { type FeedName, linkRows, linkTotals } from './services/feed.ts'
import { ownDiary, positionHistory } from './services/history.ts'
import { resultCount } from './services/counts.ts'
import { localResults } from './services/local.ts'
import { type LogDimension, logDimensions, QueryLog } from './services/query-log.ts'
import { Rankings } from './services/rankings.ts'
import { rdapDomain, rdapNetwork, resolveName } from './services/registry.ts'
import { businessGeoJson, townGeoJson } from './services/town-map.ts'
import { cities, type Language, places } from './world/vocabulary.ts'
import type { World } from './world/world.ts'

export type Answer = { status?: number; type?: string; body: object | Readable }
type ServiceRequest = { path: string[]; query: URLSearchParams; request: IncomingMessage }
type Service = (request: ServiceRequest) => Answer | undefined | Promise<Answer | undefined>

const absent = (what: string): Answer => ({ status: 404, body: { error: { code: 'not_found', message: what } } })
const rdap = (found: object | undefined, what: string): Answer => ({
  type: 'application/rdap+json',
  ...(found
    ? { body: found }
    : {
        status: 404,
        body: { errorCode: 404, title: 'Not Found', description: [`Nobody has registered this ${what}`] },
      }),
})

/** The services of the outside world that speak JSON or CSV, each by the first part of its path. Undefined: no such path. */
export function makeServices(world: World): Record<string, Service> {
  const ads = new AdsData(world)
  const completions = new Completions(world)
  const log = new QueryLog(world)
  const rankings = new Rankings(world)
  const nothing = (text: string): object => ({
    text: text.toLowerCase().replace(/\s+/g, ' ').trim(),
    average: null,
    monthly: [],
    competition: null,
    competition_index: null,
    cpc_micros: null,
    low_bid_micros: null,
    high_bid_micros: null,
    mobile_share: null,
    worldwide: null,
    match: null,
    as_of: isoOf(world.today),
  })
  const figuresOf = (text: string, place: string, language: Language): object =>
    ads.figures(text, place, language, world.today) ?? nothing(text)

  return {
    engines({ path, query, request }) {
      if (!path.length) return { body: engineList(`http://${request.headers.host}`) }
      const engine = engineFrom(path[0])
      const q = textFrom(query.get('q'), 'q')
      const language = languageFrom(query.get('language'))
      const day = dayFrom(query.get('date'), 'date', world.today)
      const near = pointFrom(query.get('near'), 'near')
      if (path[1] === 'search')
        return {
          body: search(world, {
            engine,
            query: q,
            place: placeFrom(query.get('place')),
            ...(near ? { near } : {}),
            language,
            device: deviceFrom(query.get('device') ?? undefined),
            day,
            start: numberFrom(query.get('start'), 'start', 1, 100, 1),
            count: numberFrom(query.get('num'), 'num', 1, 100, 10),
          }),
        }
      if (path[1] === 'count') {
        const where = query.get('in') ?? 'text'
        if (where !== 'text' && where !== 'title') throw new BadRequest('"in" is neither "text" nor "title"')
        return {
          body: { query: q, engine, in: where, total: resultCount(world, { engine, phrase: q, language, where }) },
        }
      }
      if (path[1] === 'local') {
        if (!near) throw new BadRequest('"near" is empty')
        const meant = understand(world, q, language)
        const count = numberFrom(query.get('num'), 'num', 1, 100, 20)
        return {
          body: {
            query: q,
            engine,
            near: { latitude: near[0], longitude: near[1] },
            date: isoOf(day),
            results: meant ? localResults(world, meant, engine, near, day, count) : [],
          },
        }
      }
      return undefined
    },
    completions({ query }) {
      const q = query.get('q') ?? ''
      const language = languageFrom(query.get('language'))
      const engine = query.get('engine')
      return {
        body: [
          q,
          engine === null ? completions.suggest(q, language) : completions.ofEngine(engineFrom(engine), q, language),
        ],
        type: 'application/x-suggestions+json',
      }
    },
    async ads({ path, query, request }) {
      if (path[0] === 'figures') {
        const body = await readObject(request)
        const place = placeFrom(body.place)
        const language = languageFrom(body.language)
        return {
          body: { figures: textsFrom(body.keywords, 'keywords', 1_000).map(text => figuresOf(text, place, language)) },
        }
      }
      if (path[0] === 'ideas') {
        const body = await readObject(request)
        const place = placeFrom(body.place)
        const language = languageFrom(body.language)
        const seeds = textsFrom(body.seeds, 'seeds', 20)
        const from = numberFrom(body.page_token, 'page_token', 0, 1e9, 0)
        const size = numberFrom(body.page_size, 'page_size', 1, 1_000, 500)
        const { phrases, next } = ads.ideas(seeds, language, from, size)
        return {
          body: {
            ideas: phrases.map(text => figuresOf(text, place, language)),
            next_page_token: next === null ? null : String(next),
          },
        }
      }
      if (path[0] === 'advertisers') {
        const body = await readObject(request)
        const language = languageFrom(body.language)
        const month = monthFrom(body.month, world.today)
        return {
          body: {
            keywords: textsFrom(body.keywords, 'keywords', 200).map(text => ads.advertisers(text, language, month)),
          },
        }
      }
      if (path[0] === 'advertised') {
        const month = monthFrom(query.get('month'), world.today)
        const from = numberFrom(query.get('cursor'), 'cursor', 0, 1e9, 0)
        const rows = ads.advertised(textFrom(query.get('site'), 'site'), languageFrom(query.get('language')), month)
        return {
          body: {
            month: monthIso(month),
            total: { keywords: rows.length, spend_micros: rows.reduce((sum, row) => sum + row.spend_micros, 0) },
            keywords: rows.slice(from, from + 1_000),
            next_cursor: from + 1_000 < rows.length ? String(from + 1_000) : null,
          },
        }
      }
      return undefined
    },
    async feeds({ path, query, request }) {
      if (!path.length)
        return {
          body: {
            feeds: [
              { feed: 'north', name: 'North' },
              { feed: 'south', name: 'South' },
            ],
          },
        }
      if (path[0] !== 'north' && path[0] !== 'south') return undefined
      const feed: FeedName = path[0]
      if (path[1] === 'totals')
        return {
          body: {
            totals: textsFrom((await readObject(request)).targets, 'targets', 200).map(target =>
              linkTotals(world, feed, target, world.today),
            ),
          },
        }
      if (path[1] !== 'links') return undefined
      const from = numberFrom(query.get('cursor'), 'cursor', 0, 1e9, 0)
      const size = numberFrom(query.get('num'), 'num', 1, 5_000, 1_000)
      const { links, next } = linkRows(world, feed, textFrom(query.get('target'), 'target'), world.today, from, size)
      return { body: { links, next_cursor: next === null ? null : String(next) } }
    },
    async rankings({ path, query }) {
      if (!path[0]) return undefined
      const edition = query.get('edition') ?? 'full'
      if (edition !== 'weekly' && edition !== 'full') throw new BadRequest('"edition" must be weekly or full')
      const request = query.get('month')
      const month = request ? monthFrom(request, world.today + 31) : null
      if (month !== null && month < monthOf(world.today) - 24)
        throw new BadRequest('"month" must lie within the last two years')
      const setting = {
        engine: engineFrom(path[0]),
        device: deviceFrom(query.get('device') ?? undefined),
        place: placeFrom(query.get('place')),
      }
      return {
        body: await rankings.ranked(
          textFrom(query.get('target'), 'target'),
          edition,
          month,
          setting,
          languageFrom(query.get('language')),
          numberFrom(query.get('cursor'), 'cursor', 0, 1e9, 0),
          numberFrom(query.get('num'), 'num', 1, 5_000, 1_000),
        ),
      }
    },
    registry({ path }) {
      if (path[0] === 'domain' && path[1]) return rdap(rdapDomain(world, path[1].toLowerCase(), world.today), 'domain')
      if (path[0] === 'ip' && path[1]) return rdap(rdapNetwork(world, path[1]), 'address')
      return undefined
    },
    dns({ query }) {
      return {
        body: resolveName(
          world,
          textFrom(query.get('name'), 'name').toLowerCase(),
          query.get('type') ?? 'A',
          world.today,
        ),
        type: 'application/dns-json',
      }
    },
    async querylog({ path, query, request }) {
      if (path[0] === 'properties') return { body: { properties: log.properties() } }
      if (path[0] === 'query') {
        const body = await readObject(request)
        const property = textFrom(body.property, 'property')
        const dimensions = textsFrom(body.dimensions ?? [], 'dimensions', 5)
        const wrong = dimensions.find(each => !logDimensions.includes(each as LogDimension))
        if (wrong !== undefined) throw new BadRequest(`"dimensions" takes ${logDimensions.join(', ')}, not "${wrong}"`)
        const to = dayFrom(body.to, 'to', world.today)
        const from = dayFrom(body.from, 'from', to)
        if (to - from > 500) throw new BadRequest('The log answers for at most 500 days at a time')
        const rows = await log.rows(property, from, to, dimensions as LogDimension[])
        if (!rows) return absent(`No property ${property} for this key`)
        const start = numberFrom(body.start, 'start', 0, 1e9, 0)
        const limit = numberFrom(body.limit, 'limit', 1, 25_000, 1_000)
        return { body: { rows: rows.slice(start, start + limit), total: rows.length } }
      }
      if (path[0] === 'export.csv') {
        const property = textFrom(query.get('property'), 'property')
        if (!log.properties().some(each => each.id === property)) return absent(`No property ${property} for this key`)
        const to = dayFrom(query.get('to'), 'to', world.today)
        return { body: Readable.from(log.csv(property, dayFrom(query.get('from'), 'from', to), to)) }
      }
      return undefined
    },
    history({ path, query }) {
      if (path[0] === 'diary.json')
        return {
          body: ownDiary(
            world,
            numberFrom(query.get('keywords'), 'keywords', 1, 20_000, 100),
            dayFrom(query.get('from'), 'from', world.today),
          ),
        }
      if (path[0] !== 'positions.csv') return undefined
      return {
        body: Readable.from(
          positionHistory(
            world,
            textFrom(query.get('site'), 'site'),
            numberFrom(query.get('keywords'), 'keywords', 1, 20_000, 100),
            dayFrom(query.get('from'), 'from', world.today),
            dayFrom(query.get('to'), 'to', world.today),
          ),
        ),
      }
    },
    maps({ path }) {
      if (path[0] === 'places')
        return {
          body: {
            places: places.map(({ code, name, country, language, centre }) => ({
              code,
              name,
              country,
              language,
              latitude: centre[0],
              longitude: centre[1],
              has_map: cities.some(city => city.code === code),
            })),
          },
        }
      const file = /^(.+)\.geojson$/.exec(path[1] ?? '')
      if (!file || (path[0] !== 'towns' && path[0] !== 'businesses')) return undefined
      const town = townGeoJson(world, file[1]!)
      if (!town) return absent(`There is no town map of ${file[1]}`)
      return { body: path[0] === 'towns' ? town : businessGeoJson(world, file[1]!), type: 'application/geo+json' }
    },
  }
}
