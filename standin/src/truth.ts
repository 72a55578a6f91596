import { createServer, type Server } from 'node:http'
import { deviceFrom, engineFrom, languageFrom, numberFrom, placeFrom, readJson, textsFrom } from './ask.ts'
import { dayOf, isoOf, monthIso, monthOf } from './calendar.ts'
import { type Faults, parseFaults } from './faults.ts'
import { authorityAt } from './rank/authority.ts'
import { trueHurdle } from './rank/hurdle.ts'
import { lawfulScores } from './rank/law.ts'
import { shiftOf } from './rank/day-view.ts'
import { rankOn } from './rank/rank.ts'
import { type Query, understand } from './rank/understand.ts'
import { planFor } from './services/engines.ts'
import { documentOf, recordOf } from './web/document.ts'
import { familyOf } from './services/ads.ts'
import { whatMoved } from './truth-moves.ts'
import { trueVisits } from './true-visits.ts'
import { demandTraits, trueSearches } from './world/demand.ts'
import { anchorOf, linkedAddress } from './world/anchors.ts'
import { type Publication, publish, unpublish } from './world/publish.ts'
import { businessesOf } from './world/towns.ts'
import { addressOf, type World } from './world/world.ts'

type Question = { ask: URLSearchParams; body: () => Promise<unknown> }

const byVisits = (a: { visits: number }, b: { visits: number }): number => b.visits - a.visits

/** What the truth port answers, by path. Everything here is hidden from the program. */
function answers(world: World, faults: Faults): Record<string, (question: Question) => unknown> {
  const { today } = world
  const meant = (ask: URLSearchParams, phrase: string): Query | undefined =>
    understand(world, phrase, languageFrom(ask.get('language') ?? 'en'))
  const setting = (ask: URLSearchParams) => ({
    engine: engineFrom(ask.get('engine') ?? 'lantern'),
    device: deviceFrom(ask.get('device') ?? undefined),
    place: placeFrom(ask.get('place')),
  })
  const dayOfAsk = (ask: URLSearchParams): number => (ask.get('date') ? dayOf(ask.get('date')!) : today)
  const phrases = async ({ body }: Question): Promise<string[]> => textsFrom(await body(), 'body', 1e6)
  const every = (ask: URLSearchParams): number => numberFrom(ask.get('every'), 'every', 1, 1e9, 1)
  return {
    /** Body: a fault list as in STANDIN_FAULTS. */
    '/faults': async ({ body }) => {
      const list = parseFaults(String(await body()))
      faults.list = list
      return list
    },
    '/keywords': ({ ask }) => {
      const language = languageFrom(ask.get('language') ?? 'en')
      return world.keywords
        .filter((keyword, i) => keyword.language === language && i % every(ask) === 0)
        .map(keyword => keyword.phrase)
    },
    /** Body: phrases. True mean monthly searches of the last 12 full months. */
    '/searches': async question => {
      const last = monthOf(today) - 1
      return (await phrases(question)).map(phrase => {
        const keyword = world.byPhrase.get(phrase)
        const year = keyword && Array.from({ length: 12 }, (_, i) => trueSearches(world, keyword, last - 11 + i))
        return { phrase, searches: year ? year.reduce((a, b) => a + b, 0) / 12 : null }
      })
    },
    /** Body: phrases. What they mean, true demand by month, and what moves it. */
    '/meanings': async question => {
      const last = monthOf(today) - 1
      return (await phrases(question)).map(phrase => {
        const keyword = world.byPhrase.get(phrase)
        if (!keyword) return { phrase, known: false }
        const head = world.heads[keyword.head]!
        return {
          phrase,
          known: true,
          need: keyword.need,
          subject: head.name,
          group: head.group,
          aspect: world.aspects[keyword.aspect]!.name,
          intent: world.aspects[keyword.aspect]!.intent,
          family: familyOf(phrase, keyword.language),
          brand_of: head.site === undefined ? null : world.sites[head.site]!.domain,
          ...demandTraits(world, keyword),
          monthly: Array.from({ length: 48 }, (_, i) => ({
            month: monthIso(last - 47 + i),
            searches: trueSearches(world, keyword, last - 47 + i),
          })),
        }
      })
    },
    '/hurdles': async question =>
      (await phrases(question)).map(phrase => {
        const query = meant(question.ask, phrase)
        return {
          phrase,
          hurdle: query
            ? trueHurdle(world, planFor(world, query, setting(question.ask)), dayOfAsk(question.ask))
            : null,
        }
      }),
    /** Body: phrases. The ranking of a day 60 deep with the score the rule alone gives each page. */
    '/orders': async question =>
      (await phrases(question)).map(phrase => {
        const query = meant(question.ask, phrase)
        if (!query) return { phrase, pages: [] }
        const day = dayOfAsk(question.ask)
        const plan = planFor(world, query, setting(question.ask))
        const lawful = lawfulScores(world, plan, day)
        return {
          phrase,
          pages: rankOn(world, plan, day, 60).map(page => ({
            url: addressOf(world, page),
            score: lawful[plan.pages.indexOf(page)],
          })),
        }
      }),
    /** Body: domains of viewpoints. Visits a month of every site and page, and what each viewpoint shares with other sites. */
    '/visits': async question => {
      const { ask } = question
      const domains = await phrases(question)
      const viewpoints = new Set(world.sites.filter(site => domains.includes(site.domain)).map(site => site.id))
      const language = languageFrom(ask.get('language') ?? 'en')
      const found = await trueVisits(world, setting(ask), language, dayOfAsk(ask), viewpoints)
      const named = (sums: ReadonlyMap<number, number>) =>
        [...sums].map(([site, visits]) => ({ domain: world.sites[site]!.domain, visits })).sort(byVisits)
      return {
        sites: named(found.sites),
        pages: [...found.pages].map(([url, visits]) => ({ url, visits })).sort(byVisits),
        shared: [...found.shared].map(([site, sums]) => ({ domain: world.sites[site]!.domain, with: named(sums) })),
      }
    },
    '/sites': ({ ask }) => {
      const authority = authorityAt(world, monthOf(dayOfAsk(ask)))
      return world.sites.map(site => ({
        domain: site.domain,
        kind: site.kind,
        language: site.language,
        network: site.kind === 'network',
        owner: site.owner,
        email: site.email,
        authority: authority.site[site.id],
        linking_sites: authority.linkingSites[site.id],
        pages: world.pagesOfSite[site.id]!.length,
      }))
    },
    '/pages': ({ ask }) =>
      world.pages
        .filter((page, i) => i % every(ask) === 0 && page.born <= today)
        .map(page => ({
          url: addressOf(world, page),
          kind: page.kind,
          language: page.language,
          copy_of: page.copyOf < 0 ? null : addressOf(world, world.pages[page.copyOf]!),
          gone: page.gone && page.gone <= today ? isoOf(page.gone) : null,
          broken: documentOf(world, page, today).broken,
        })),
    /** What one page contains today, for comparing a crawl. */
    '/page': ({ ask }) => {
      const page = world.pageByAddress.get(ask.get('url') ?? '')
      return page ? recordOf(documentOf(world, page, today)) : null
    },
    '/links': ({ ask }) => {
      const { links, pages } = world
      const out: object[] = []
      for (let i = 0; i < links.count; i += every(ask))
        out.push({
          source: addressOf(world, pages[links.source[i]!]!),
          target: linkedAddress(world, i),
          born: isoOf(links.born[i]!),
          died: links.died[i] ? isoOf(links.died[i]!) : null,
          rel: links.rel[i],
          kind: links.kind[i],
          region: links.region[i],
          wording: links.wording[i],
          cause: links.cause[i],
          anchor: anchorOf(world, i),
        })
      return out
    },
    /** Days on which the engines' rules shifted, between two dates. */
    '/shifts': ({ ask }) => {
      const from = dayOf(ask.get('from') ?? isoOf(today - 365))
      const out: object[] = []
      for (const [code, engine] of ['lantern', 'plover'].entries())
        for (let day = from + 1; day <= dayOfAsk(ask); day++)
          if (shiftOf(world, day, code + 1) !== shiftOf(world, day - 1, code + 1))
            out.push({ engine, date: isoOf(day) })
      return out
    },
    /** What the own site changed and what it truly did to its scores. */
    '/changes': () =>
      world.changes
        .filter(change => change.day <= today)
        .map(({ day, ...change }) => ({ date: isoOf(day), domain: world.own.domain, ...change })),
    /** Body: [{ phrase, from, to }]. What truly moved the own site's best page for each between two days. */
    '/moved': async ({ ask, body }) =>
      ((await body()) as Array<{ phrase: string; from: string; to: string }>).map(({ phrase, from, to }) => {
        const query = meant(ask, phrase)
        const moved = query && whatMoved(world, planFor(world, query, setting(ask)), dayOf(from), dayOf(to))
        return { phrase, from, to, ...(moved ?? { gained: null, cause: null }) }
      }),
    '/businesses': ({ ask }) => businessesOf(world, ask.get('town') ?? ''),
    /** Body: [{ site, title, text, description?, kind?, links?: [addresses], date }]. Gives the addresses. */
    '/publish': async ({ body }) => {
      const list = (await body()) as Array<Omit<Publication, 'day'> & { date: string }>
      return publish(
        world,
        list.map(({ date, ...publication }) => ({ ...publication, day: dayOf(date) })),
      )
    },
    '/unpublish': () => {
      unpublish(world)
      return { pages: world.pages.length }
    },
  }
}

/** The truth port: hidden answers, faults and publishing, for scores and tests. Off unless STANDIN_TRUTH_PORT is set. */
export function createTruth(world: World, faults: Faults): Server {
  const known = answers(world, faults)
  let requests = 0
  return createServer((request, response) => {
    const url = new URL(request.url ?? '/', 'http://truth')
    const send = (status: number, body: unknown): void => {
      response.writeHead(status, { 'content-type': 'application/json' })
      response.end(JSON.stringify(body))
    }
    // How often anything was asked, so that a test can see that the program never does.
    if (url.pathname === '/requests') return send(200, { requests })
    requests++
    const answer = known[url.pathname]
    if (!answer) return send(404, { error: `Nothing at ${url.pathname}` })
    Promise.resolve()
      .then(() => answer({ ask: url.searchParams, body: () => readJson(request) }))
      .then(
        value => send(200, value),
        error => send(400, { error: String(error) }),
      )
  })
}
