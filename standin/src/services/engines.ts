import { isoOf } from '../calendar.ts'
import { bell3, unit } from '../random.ts'
import { type Plan, planRanking } from '../rank/candidates.ts'
import { rankOn } from '../rank/rank.ts'
import type { Setting } from '../rank/rule.ts'
import { type Query, trunk, understand } from '../rank/understand.ts'
import type { Keyword } from '../world/keywords.ts'
import type { Page } from '../world/pages.ts'
import { cityNear, type Device, type Engine, type Language, places } from '../world/vocabulary.ts'
import { addressOf, type World } from '../world/world.ts'
import { titleOn } from '../web/document.ts'
import { featuresOf } from './features.ts'
import { localResults } from './local.ts'

export type SearchRequest = {
  engine: Engine
  query: string
  /** Code of a place. */
  place: string
  /** WGS 84 latitude and longitude, where the searcher stands closer known than by place. */
  near?: [number, number]
  language: Language
  device: Device
  day: number
  /** First place and number of results wanted. */
  start: number
  count: number
}
type Cached = { edition: number; plans: Map<string, Plan> }
const cached = new WeakMap<World, Cached>()

/** The plan of a query in a setting, kept while the world's pages stay as they are. */
export function planFor(world: World, query: Query, setting: Setting): Plan {
  let known = cached.get(world)
  if (known?.edition !== world.edition) cached.set(world, (known = { edition: world.edition, plans: new Map() }))
  const key = `${setting.engine}|${setting.device}|${setting.place}|${query.language}|${query.phrase}`
  const ready = known.plans.get(key)
  if (ready) return ready
  const { engine, device, place } = setting
  const made = planRanking(world, query, { engine, device, place })
  known.plans.set(key, made)
  if (known.plans.size > 3_000) known.plans.delete(known.plans.keys().next().value!)
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

/** Other things people search for after this: near needs of the same head, then the same need of sister heads. */
function relatedSearches(world: World, query: Query, count: number): string[] {
  const head = world.heads[query.head]!
  const near: Keyword[] = [...world.keywordsOfHead[query.head]!]
  for (const other of world.heads)
    if (other.id !== head.id && other.group === head.group && other.language === head.language && near.length < 900)
      for (const keyword of world.keywordsOfHead[other.id]!) if (keyword.aspect === query.aspect) near.push(keyword)
  return near
    .filter(keyword => keyword.phrase !== query.phrase)
    .map(keyword => ({
      phrase: keyword.phrase,
      weight:
        Math.log1p(keyword.base) +
        0.8 * bell3(world.seed, keyword.id, query.need) +
        (keyword.head === query.head ? 1.5 : 0),
    }))
    .sort((a, b) => b.weight - a.weight || (a.phrase < b.phrase ? -1 : 1))
    .slice(0, count)
    .map(item => item.phrase)
}
const relatedKept = new WeakMap<World, Map<number, string[]>>()
function related(world: World, query: Query): string[] {
  let known = relatedKept.get(world)
  if (!known) relatedKept.set(world, (known = new Map()))
  let list = known.get(query.need)
  if (!list) {
    known.set(query.need, (list = relatedSearches(world, query, 9)))
    if (known.size > 5_000) known.delete(known.keys().next().value!)
  }
  return list.filter(phrase => phrase !== query.phrase).slice(0, 8)
}

/** The city or country a search counts for: that of the coordinates, else the place asked for. */
export const settingOf = (request: Pick<SearchRequest, 'engine' | 'device' | 'place' | 'near'>): Setting => ({
  engine: request.engine,
  device: request.device,
  place: (request.near && cityNear(...request.near)?.code) ?? request.place,
})

/** A result page as an engine's data service gives it. */
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
      images: [],
      shopping: [],
      map: [],
      related: [],
    }
  const setting = settingOf(request)
  const ranked = rankOn(world, planFor(world, query, setting), request.day, request.start + request.count - 1)
  const features = featuresOf(world, query, request.engine, request.day)
  const firstPage =
    10 -
    (features.answer ? 1 : 0) -
    (features.map ? 1 : 0) -
    (features.shopping ? 1 : 0) -
    (features.images && features.questions ? 1 : 0)
  const shops = ranked.filter(page => page.kind === 'product' || page.kind === 'category')
  const place = places.find(each => each.code === setting.place)!
  const questions = features.questions
    ? world.keywordsOfHead[query.head]!.filter(
        keyword => world.aspects[keyword.aspect]!.intent[0]! > 0.7 && keyword.phrase !== query.phrase,
      )
    : []
  return {
    ...base,
    total: Math.round(2_000 + 90_000 * unit(world.seed, query.need, 65)),
    first_page: firstPage,
    organic: ranked.slice(request.start - 1).map((page, i) => ({
      position: request.start + i,
      url: addressOf(world, page),
      title: titleOn(world, page, request.day),
      snippet: snippet(world, query, page),
    })),
    ads: features.advertisers.map(({ site, position }) => ({
      position,
      title: `${query.phrase.charAt(0).toUpperCase()}${query.phrase.slice(1)} | ${site.name}`,
      url: `${site.secure ? 'https' : 'http'}://${site.host}/`,
    })),
    answer: features.answer && ranked[0] ? { url: addressOf(world, ranked[0]), text: ranked[0].description } : null,
    questions: questions.slice(0, 4).map(keyword => keyword.phrase),
    images: features.images
      ? ranked.slice(0, 6).map(page => ({ url: `${addressOf(world, page)}#picture`, title: page.title }))
      : [],
    shopping: features.shopping
      ? shops.slice(0, 4).map(page => ({
          title: page.title,
          url: addressOf(world, page),
          price: Math.round(1_000 + 40_000 * unit(page.id, 3)) / 100,
        }))
      : [],
    map: features.map
      ? localResults(world, query, request.engine, request.near ?? place.centre, request.day, 3, !request.near)
      : [],
    related: related(world, query),
  }
}
