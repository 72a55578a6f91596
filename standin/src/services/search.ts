import { isoOf, monthOf } from '../calendar.ts'
import { normal, unit } from '../random.ts'
import { bestOfSite, type Plan, planRanking, rankOn, type Setting } from '../rank/rank.ts'
import { type Query, trunk, understand } from '../rank/understand.ts'
import { trueSearches } from '../world/demand.ts'
import type { Page } from '../world/pages.ts'
import { type Device, type Engine, type Language, places } from '../world/vocabulary.ts'
import { urlOf, type World } from '../world/world.ts'

export type SearchRequest = {
  engine: Engine
  query: string
  place: string
  language: Language
  device: Device
  day: number
  depth: number
}
const plans = new WeakMap<World, Map<string, Plan>>()

export function planFor(world: World, query: Query, setting: Setting): Plan {
  let cache = plans.get(world)
  if (!cache) plans.set(world, (cache = new Map()))
  const key = `${setting.engine}|${setting.device}|${setting.place}|${query.language}|${query.phrase}`
  const known = cache.get(key)
  if (known) return known
  const made = planRanking(world, query, setting)
  cache.set(key, made)
  if (cache.size > 4_000) cache.delete(cache.keys().next().value!)
  return made
}

function snippet(world: World, query: Query, page: Page): string {
  const stems = new Set(query.words.map(trunk))
  // An engine shows the words around what was asked for, where the page has them.
  const near = page.also.includes(query.aspect)
    ? [query.aspect, ...page.also.filter(id => id !== query.aspect)]
    : page.also
  const extra = near
    .slice(0, 2)
    .map(id => world.aspects[id]!.forms[0]!.replaceAll('{}', world.heads[page.head]!.name).replace(/\{.\}/g, ''))
    .join(', ')
  const text = `${page.description}${extra ? ` ${query.language === 'de' ? 'Auch' : 'Also'}: ${extra}.` : ''}`
  return text.replace(/[\p{L}\p{N}]+/gu, word => (stems.has(trunk(word.toLowerCase())) ? `<b>${word}</b>` : word))
}

/** Other things people search for after this: near needs of the same head, then heads of the same group. */
export function relatedSearches(world: World, query: Query, count: number): string[] {
  return world.keywords
    .filter(
      keyword =>
        keyword.language === query.language &&
        (keyword.head === query.head ||
          (world.heads[keyword.head]!.group === world.heads[query.head]!.group && keyword.aspect === query.aspect)) &&
        keyword.phrase !== query.phrase,
    )
    .map(keyword => ({
      phrase: keyword.phrase,
      weight:
        Math.log1p(keyword.base) +
        0.8 * normal(world.seed, keyword.id, query.id, 51) +
        (keyword.head === query.head ? 1.5 : 0),
    }))
    .sort((a, b) => b.weight - a.weight || (a.phrase < b.phrase ? -1 : 1))
    .slice(0, count)
    .map(item => item.phrase)
}
const relatedKept = new WeakMap<World, Map<string, string[]>>()
function related(world: World, query: Query): string[] {
  let cache = relatedKept.get(world)
  if (!cache) relatedKept.set(world, (cache = new Map()))
  let list = cache.get(query.phrase)
  if (!list) cache.set(query.phrase, (list = relatedSearches(world, query, 8)))
  return list
}

export function search(world: World, request: SearchRequest): object {
  const base = {
    query: request.query,
    engine: request.engine,
    place: request.place,
    language: request.language,
    device: request.device,
    date: isoOf(request.day),
  }
  const query = understand(world, request.query, request.language)
  if (!query)
    return {
      ...base,
      total: 0,
      first_page: 0,
      organic: [],
      ads: [],
      answer: null,
      questions: [],
      images: false,
      shopping: [],
      map: [],
      related: [],
    }
  const plan = planFor(world, query, request)
  const ranked = rankOn(world, plan, request.day, request.depth)
  const [learn, , buy, , near] = query.intent as [number, number, number, number, number]
  const chance = (...parts: number[]): number =>
    unit(world.seed, query.need, request.engine === 'lantern' ? 1 : 2, ...parts)
  const answer = learn > 0.6 && chance(61) < 0.45
  const shopping = buy > 0.45 && chance(62) < 0.6
  const map = near > 0.4
  const questions = chance(63) < 0.55
  const images = chance(64) < 0.3
  const firstPage = 10 - (answer ? 1 : 0) - (map ? 1 : 0) - (shopping ? 1 : 0) - (images && questions ? 1 : 0)
  const shops = ranked.filter(page => page.kind === 'product' || page.kind === 'category')
  const byHead = world.keywords.filter(
    keyword =>
      keyword.head === query.head && world.aspects[keyword.aspect]!.intent[0]! > 0.7 && keyword.phrase !== query.phrase,
  )
  return {
    ...base,
    total: Math.round(2_000 + 90_000 * chance(65)),
    first_page: firstPage,
    organic: ranked.map((page, i) => ({
      position: i + 1,
      url: urlOf(world, page),
      title: page.title,
      snippet: snippet(world, query, page),
    })),
    ads: shops.slice(0, Math.round(3 * buy * chance(66))).map(page => ({ title: page.title, url: urlOf(world, page) })),
    answer: answer && ranked[0] ? { url: urlOf(world, ranked[0]), text: ranked[0].description } : null,
    questions: questions ? byHead.slice(0, 4).map(keyword => keyword.phrase) : [],
    images,
    shopping: shopping
      ? shops.slice(0, 4).map(page => ({
          title: page.title,
          url: urlOf(world, page),
          price: Math.round(1_000 + 40_000 * unit(page.id, 3)) / 100,
        }))
      : [],
    map: map
      ? world.sites
          .filter(site => site.kind === 'studio' && site.language === query.language)
          .slice(0, 3)
          .map(site => ({ name: site.name, url: `https://${site.domain}/` }))
      : [],
    related: related(world, query),
  }
}

/** Completions by demand: the last word may be unfinished, the others must all be in the phrase. */
export class Completions {
  readonly #byPrefix = new Map<string, number[]>()
  readonly #world: World
  constructor(world: World) {
    this.#world = world
    const order = [...world.keywords].sort((a, b) => b.base - a.base || a.id - b.id)
    for (const keyword of order) {
      const prefixes = new Set<string>()
      for (const word of keyword.phrase.split(' '))
        for (let length = 1; length <= Math.min(word.length, 12); length++) prefixes.add(word.slice(0, length))
      for (const prefix of prefixes) {
        const list = this.#byPrefix.get(prefix)
        if (list) list.push(keyword.id)
        else this.#byPrefix.set(prefix, [keyword.id])
      }
    }
  }
  suggest(text: string, language: Language, count = 10): string[] {
    const typed = text.toLowerCase().replace(/\s+/g, ' ').trimStart()
    const words = typed.trim().split(' ').filter(Boolean)
    if (!words.length) return []
    const lists = words.map(word => this.#byPrefix.get(word.slice(0, 12)) ?? []).sort((a, b) => a.length - b.length)
    const found: string[] = []
    for (const id of lists[0]!) {
      const keyword = this.#world.keywords[id]!
      if (keyword.language !== language || keyword.phrase === typed.trim()) continue
      const parts = keyword.phrase.split(' ')
      const last = words.length - 1
      if (
        words.every((word, i) =>
          i === last && !typed.endsWith(' ') ? parts.some(part => part.startsWith(word)) : parts.includes(word),
        )
      )
        found.push(keyword.phrase)
      if (found.length === count) break
    }
    return found
  }
}

/** Daily positions of a site's best page for its strongest keywords, as a rank history file has them. */
export function* positionHistory(
  world: World,
  domain: string,
  count: number,
  fromDay: number,
  toDay: number,
): Generator<string> {
  const site = world.byDomain.get(domain)
  if (!site) return
  const place = places.find(candidate => candidate.language === site.language)!.code
  yield 'Date,Keyword,Search engine,Country,Language,Device,Rank,Landing page\n'
  for (const { query } of strongestKeywords(world, domain, count)) {
    for (const engine of ['lantern', 'plover'] as const)
      for (const device of ['desktop', 'mobile'] as const) {
        const plan = planFor(world, query, { engine, device, place })
        let rows = ''
        for (let day = fromDay; day <= toDay; day++) {
          const found = bestOfSite(world, plan, day, site.id)
          rows += `${isoOf(day)},${query.phrase},${engine},${place},${site.language},${device},${found && found.position <= 100 ? found.position : '>100'},${found && found.position <= 100 ? urlOf(world, found.page) : ''}\n`
        }
        yield rows
      }
  }
}

/** The keywords that bring a site most, by demand and by where it stands. */
export function strongestKeywords(
  world: World,
  domain: string,
  count: number,
): Array<{ query: Query; position: number }> {
  const site = world.byDomain.get(domain)
  if (!site) return []
  const place = places.find(candidate => candidate.language === site.language)!.code
  return world.keywords
    .filter(keyword => keyword.language === site.language && site.groups.includes(world.heads[keyword.head]!.group))
    .sort((a, b) => b.base - a.base)
    .slice(0, count * 5)
    .map(keyword => {
      const query = understand(world, keyword.phrase, site.language)!
      const position =
        rankOn(
          world,
          planFor(world, query, { engine: 'lantern', device: 'desktop', place }),
          world.today,
          100,
          true,
        ).findIndex(page => page.site === site.id) + 1
      return { query, position, worth: position ? keyword.base / (position + 2) ** 0.8 : 0 }
    })
    .filter(item => item.position > 0)
    .sort((a, b) => b.worth - a.worth)
    .slice(0, count)
}

/** The own site's query log of a day: clicks and impressions follow true demand and position; rare queries are withheld. */
export function queryLogRows(world: World, domain: string, day: number): object[] {
  const rows: object[] = []
  for (const { query, position } of strongestKeywords(world, domain, 400)) {
    const keyword = query.keyword
    if (!keyword) continue
    for (const device of ['desktop', 'mobile'] as const) {
      const searches = (trueSearches(world, keyword, monthOf(day)) / 30.4) * (device === 'mobile' ? 0.58 : 0.42)
      const drawn = Math.max(
        0,
        searches + Math.sqrt(searches) * normal(world.seed, keyword.id, day, device === 'mobile' ? 1 : 2, 57),
      )
      const seen = drawn * (position <= 10 ? 1 : position <= 20 ? 0.15 : 0.04)
      const impressions = Math.round(seen)
      if (impressions < 1 || (impressions < 2 && unit(world.seed, keyword.id, 58) < 0.5)) continue
      const clicks = Math.min(
        impressions,
        Math.round(seen * 0.3 * position ** -0.9 + unit(world.seed, keyword.id, day, 59) - 0.5),
      )
      rows.push({
        day: isoOf(day),
        query: keyword.phrase,
        page: `https://${domain}/`,
        country: 'tarrow',
        device,
        clicks: Math.max(0, clicks),
        impressions,
        position,
      })
    }
  }
  return rows
}
