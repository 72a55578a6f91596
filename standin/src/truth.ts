import { createServer, type Server } from 'node:http'
import { monthOf } from './calendar.ts'
import { type Faults, parseFaults } from './faults.ts'
import { trueHurdle } from './rank/rank.ts'
import { understand } from './rank/understand.ts'
import { planFor } from './services/search.ts'
import { trueSearches } from './world/demand.ts'
import type { Device, Engine, Language } from './world/vocabulary.ts'
import type { World } from './world/world.ts'

/** The truth port: hidden answers and faults for scores and tests. Off unless STANDIN_TRUTH_PORT is set. */
export function createTruth(world: World, faults: Faults): Server {
  return createServer(async (request, response) => {
    const url = new URL(request.url ?? '/', 'http://truth')
    const ask = url.searchParams
    const send = (status: number, body: unknown): void => {
      response.writeHead(status, { 'content-type': 'application/json' })
      response.end(JSON.stringify(body))
    }
    const chunks: Buffer[] = []
    for await (const chunk of request) chunks.push(chunk as Buffer)
    const text = Buffer.concat(chunks).toString('utf8')
    try {
      if (url.pathname === '/faults' && request.method === 'POST') {
        faults.list = parseFaults(text)
        send(200, faults.list)
        return
      }
      const phrases = text ? (JSON.parse(text) as string[]) : []
      if (url.pathname === '/hurdles') {
        const setting = {
          engine: (ask.get('engine') ?? 'lantern') as Engine,
          device: (ask.get('device') ?? 'desktop') as Device,
          place: ask.get('place') ?? 'tarrow',
        }
        send(
          200,
          phrases.map(phrase => {
            const query = understand(world, phrase, (ask.get('language') ?? 'en') as Language)
            return { phrase, hurdle: query ? trueHurdle(world, planFor(world, query, setting), world.today) : null }
          }),
        )
        return
      }
      if (url.pathname === '/searches') {
        const last = monthOf(world.today) - 1
        send(
          200,
          phrases.map(phrase => {
            const keyword = world.byPhrase.get(phrase)
            return {
              phrase,
              searches: keyword
                ? Array.from({ length: 12 }, (_, i) => trueSearches(world, keyword, last - 11 + i)).reduce(
                    (a, b) => a + b,
                    0,
                  ) / 12
                : null,
            }
          }),
        )
        return
      }
      if (url.pathname === '/keywords') {
        const language = (ask.get('language') ?? 'en') as Language
        const every = Math.max(1, Number(ask.get('every') ?? 1))
        send(
          200,
          world.keywords
            .filter((keyword, i) => keyword.language === language && i % every === 0)
            .map(keyword => keyword.phrase),
        )
        return
      }
      send(404, { error: `Nothing at ${url.pathname}` })
    } catch (error) {
      send(400, { error: String(error) })
    }
  })
}
