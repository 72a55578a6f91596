import { mix, normal, textHash, unit } from '../random.ts'
import type { Page, PageKind } from '../world/pages.ts'
import type { Device, Engine } from '../world/vocabulary.ts'
import type { World } from '../world/world.ts'
import { authorityAt, authorityMonth, monthShare } from './authority.ts'
import { type Query, trunk } from './understand.ts'

export type Setting = { engine: Engine; device: Device; place: string }
/** Candidates of a query in a setting with the part of their score that no day changes. */
export type Plan = {
  query: Query
  setting: Setting
  pages: Page[]
  relevance: Float64Array
  base: Float64Array
  engineCode: number
}

/** How well a kind of page serves learn, compare, buy, go to a site, find nearby. */
const serves: Record<PageKind, number[]> = {
  home: [0.25, 0.3, 0.5, 1, 0.6],
  category: [0.15, 0.45, 1, 0.3, 0.5],
  product: [0.1, 0.3, 0.95, 0.2, 0.2],
  article: [1, 0.95, 0.2, 0.1, 0.25],
  thread: [0.8, 0.7, 0.05, 0, 0.1],
  listing: [0.05, 0.35, 0.3, 0.1, 1],
}
const engineSpec = {
  lantern: { code: 1, relevance: 3.1, site: 3, page: 0.75, title: 0.3, fresh: 0.25 },
  plover: { code: 2, relevance: 3.3, site: 2.2, page: 0.5, title: 0.6, fresh: 0.55 },
}

export function relevanceOf(world: World, query: Query, page: Page): number {
  if (page.head < 0) return world.sites[page.site]!.groups.includes(world.heads[query.head]!.group) ? 0.2 : 0.02
  if (page.head !== query.head) return 0.06
  if (page.aspect === query.aspect) return 1
  if (page.also.includes(query.aspect)) return 0.76
  const plain = world.aspects[query.aspect]!.name === 'plain'
  const pagePlain = world.aspects[page.aspect]!.name === 'plain'
  if (plain || pagePlain) return 0.5
  const other = world.aspects[page.aspect]!.intent
  return 0.2 + 0.14 * query.intent.reduce((sum, share, i) => sum + share * other[i]!, 0)
}

export const servesIntent = (query: Query, kind: PageKind): number =>
  query.intent.reduce((sum, share, i) => sum + share * serves[kind][i]!, 0)

/** The hidden rule's part that links and days do not touch. Interactions on purpose: fit multiplies, it does not add. */
export function stillScore(
  setting: Setting,
  relevance: number,
  intentFit: number,
  quality: number,
  titleShare: number,
  local: number,
  mobile: number,
): number {
  const spec = engineSpec[setting.engine]
  const fit = 1 / (1 + Math.exp(-7 * (relevance * (0.55 + 0.45 * intentFit) - 0.42)))
  return (
    spec.relevance * fit * (0.6 + 0.4 * quality) +
    spec.title * titleShare * fit +
    local +
    (setting.device === 'mobile' ? 0.35 * (mobile - 0.6) : 0)
  )
}

/** What links add: saturating, and worth more the better the page fits. */
export function linkScore(setting: Setting, relevance: number, site: number, page: number): number {
  const spec = engineSpec[setting.engine]
  return spec.site * Math.tanh(1.5 * site) * (0.45 + 0.55 * relevance) + spec.page * Math.sqrt(page)
}

export function planRanking(world: World, query: Query, setting: Setting): Plan {
  const engineCode = engineSpec[setting.engine].code
  const language = query.language
  const head = world.heads[query.head]!
  const pool: Page[] = [...world.pagesOfHead[query.head]!]
  for (const site of world.sites)
    if (site.language === language && site.groups.includes(head.group)) {
      const home = world.pagesOfSite[site.id]![0]
      if (home) pool.push(home)
    }
  if (pool.length < 130) {
    const mates = world.heads.filter(
      other => other.language === language && other.group === head.group && other.id !== head.id,
    )
    for (const mate of mates)
      for (const page of world.pagesOfHead[mate.id]!) {
        if (pool.length >= 160) break
        if (unit(page.id, query.head, 5) < 0.3) pool.push(page)
      }
  }
  const pages =
    pool.length > 400
      ? pool.sort((a, b) => relevanceOf(world, query, b) - relevanceOf(world, query, a) || a.id - b.id).slice(0, 400)
      : pool
  const stems = query.words.map(trunk)
  const placeHash = textHash(setting.place)
  const deviceCode = setting.device === 'mobile' ? 1 : 0
  const relevance = new Float64Array(pages.length)
  const base = new Float64Array(pages.length)
  pages.forEach((page, i) => {
    const site = world.sites[page.site]!
    const title = page.title.toLowerCase()
    const titleStems = title.split(/[^\p{L}\p{N}]+/u).map(trunk)
    const share = title.includes(query.phrase)
      ? 1
      : (0.7 * stems.filter(stem => titleStems.includes(stem)).length) / stems.length
    const fit = relevanceOf(world, query, page)
    relevance[i] = fit
    const local = query.local
      ? site.city === setting.place
        ? 0.8
        : site.city && setting.place === 'tarrow'
          ? 0.15
          : 0
      : 0
    base[i] =
      stillScore(setting, fit, servesIntent(query, page.kind), page.quality, share, local, site.mobile) +
      0.16 * normal(world.seed, page.id, query.need, engineCode) +
      0.06 * normal(world.seed, page.id, query.id, engineCode, 7) +
      0.03 * normal(world.seed, page.id, query.need, placeHash) +
      0.04 * normal(world.seed, page.id, query.need, 17 + deviceCode)
  })
  return { query, setting, pages, relevance, base, engineCode }
}

/** A shift a quarter: from its day on every site stands a little elsewhere, and links weigh differently. */
export function shiftOf(world: World, day: number, engineCode: number): number {
  const quarter = Math.floor(day / 91)
  return day - quarter * 91 >= 10 + Math.floor(unit(world.seed, quarter, engineCode, 41) * 70) ? quarter : quarter - 1
}

/** `unit` of three numbers, written out: it is called for every candidate of every day. */
function chance3(a: number, b: number, c: number): number {
  let h = Math.imul(a ^ Math.imul(b, 0x9e3779b1), 0x85ebca6b) ^ Math.imul(c, 0xc2b2ae35)
  h = Math.imul(h ^ (h >>> 15), 0x2c1b3c6d)
  h = Math.imul(h ^ (h >>> 12), 0x297a2d39)
  return ((h ^ (h >>> 15)) >>> 0) / 4294967296
}

const offsetsKept = new WeakMap<World, Map<number, Float64Array>>()
function shiftOffsets(world: World, shift: number, engineCode: number): Float64Array {
  let kept = offsetsKept.get(world)
  if (!kept) offsetsKept.set(world, (kept = new Map()))
  const key = shift * 4 + engineCode
  let offsets = kept.get(key)
  if (!offsets)
    kept.set(
      key,
      (offsets = Float64Array.from(
        world.sites,
        site => 0.2 * (unit(world.seed, site.id, shift, engineCode, 43) - 0.5),
      )),
    )
  return offsets
}

/** Score of every candidate on a day; −∞ for pages not yet born. `still` leaves the noise of single days out. */
export function scoresOn(world: World, plan: Plan, day: number, still = false): Float64Array {
  const month = authorityMonth(day)
  const now = authorityAt(world, month)
  const next = authorityAt(world, month + 1)
  const share = monthShare(day)
  const shift = shiftOf(world, day, plan.engineCode)
  const linkWeight = 1 + 0.12 * (unit(world.seed, shift, plan.engineCode, 42) - 0.5)
  const fresh = engineSpec[plan.setting.engine].fresh * (plan.query.intent[1]! + 0.3)
  const week = Math.floor(day / 7)
  const within = (day - week * 7) / 7
  const key = mix(world.seed, plan.query.id, plan.engineCode, plan.setting.device === 'mobile' ? 1 : 0)
  const scores = new Float64Array(plan.pages.length)
  const siteShift = shiftOffsets(world, shift, plan.engineCode)
  for (let i = 0; i < scores.length; i++) {
    const page = plan.pages[i]!
    if (page.born > day) {
      scores[i] = -Infinity
      continue
    }
    const site = now.site[page.site]! * (1 - share) + next.site[page.site]! * share
    const links = now.page[page.id]! * (1 - share) + next.page[page.id]! * share
    const age = day - (page.updated <= day ? page.updated : page.born)
    const young = day - page.born < 40 ? -0.5 * (1 - (day - page.born) / 40) : 0
    const drift = still
      ? 0
      : (chance3(key, page.id, week) * (1 - within) + chance3(key, page.id, week + 1) * within - 0.5) * 0.1 +
        (chance3(key, page.id, day) - 0.5) * 0.05
    scores[i] =
      plan.base[i]! +
      linkWeight * linkScore(plan.setting, plan.relevance[i]!, site, links) +
      fresh * Math.exp(-age / 300) +
      young +
      siteShift[page.site]! +
      drift
  }
  return scores
}

/** The ranking of a day, best first, at most two pages of a site in a row of ten and `depth` results. */
export function rankOn(world: World, plan: Plan, day: number, depth: number, still = false): Page[] {
  const scores = scoresOn(world, plan, day, still)
  const order = Array.from(scores.keys())
    .filter(i => scores[i]! > -Infinity && plan.relevance[i]! > 0.03)
    .sort((a, b) => scores[b]! - scores[a]! || a - b)
  const perSite = new Map<number, number>()
  const ranked: Page[] = []
  for (const i of order) {
    const page = plan.pages[i]!
    const had = perSite.get(page.site) ?? 0
    if (had >= 2) continue
    perSite.set(page.site, had + 1)
    ranked.push(page)
    if (ranked.length === depth) break
  }
  return ranked
}

/** Where a site's best page stands on a day: the place `rankOn` gives it, without sorting. */
export function bestOfSite(
  world: World,
  plan: Plan,
  day: number,
  site: number,
): { position: number; page: Page } | undefined {
  const scores = scoresOn(world, plan, day)
  let own = -1
  for (let i = 0; i < scores.length; i++)
    if (plan.pages[i]!.site === site && plan.relevance[i]! > 0.03 && scores[i]! > (own < 0 ? -Infinity : scores[own]!))
      own = i
  if (own < 0) return undefined
  const above = new Uint8Array(world.sites.length)
  let position = 1
  for (let i = 0; i < scores.length; i++) {
    const page = plan.pages[i]!
    if (
      i !== own &&
      plan.relevance[i]! > 0.03 &&
      (scores[i]! > scores[own]! || (scores[i] === scores[own] && i < own)) &&
      above[page.site]! < 2
    ) {
      above[page.site]!++
      position++
    }
  }
  return { position, page: plan.pages[own]! }
}

/**
 * The true hurdle of a query: the site weight (0–1) at which a new page that fits well and has two
 * links would draw level with the tenth result, noise left out; 0 where any site could, 1 where none can.
 */
export function trueHurdle(world: World, plan: Plan, day: number): number {
  const scores = scoresOn(world, plan, day, true)
  const tenth =
    rankOn(world, plan, day, 10, true)
      .map(page => scores[plan.pages.indexOf(page)]!)
      .at(-1) ?? 0
  const kind = (Object.keys(serves) as PageKind[])
    .filter(each => each !== 'home')
    .sort((a, b) => servesIntent(plan.query, b) - servesIntent(plan.query, a))[0]!
  const at = (site: number): number =>
    stillScore(plan.setting, 0.92, servesIntent(plan.query, kind), 0.6, 0.85, 0, 0.65) +
    linkScore(plan.setting, 0.92, site, 0.1) +
    engineSpec[plan.setting.engine].fresh * (plan.query.intent[1]! + 0.3)
  let low = 0
  let high = 1
  for (let i = 0; i < 50; i++) {
    const mid = (low + high) / 2
    if (at(mid) < tenth) low = mid
    else high = mid
  }
  return (low + high) / 2
}
