import { bell3, mix, textHash, unit } from '../random.ts'
import { type Head, matesOf } from '../world/keywords.ts'
import type { Page } from '../world/pages.ts'
import type { World } from '../world/world.ts'
import { engineSpec, fitOf, localityOf, relevanceOf, type Setting, servesIntent, stillScore } from './rule.ts'
import { type Query, trunk, trunksOf } from './understand.ts'

/** Candidates of a query in a setting with the part of their score that no day changes. */
export type Plan = {
  query: Query
  setting: Setting
  base: Float64Array
  engineCode: number
} & CandidatePages

/** Pages that may answer a need, with their facts side by side as arrays: they are read for every page of every day. */
type CandidatePages = {
  pages: Page[]
  relevance: Float64Array
  ids: Int32Array
  sites: Int32Array
  born: Int32Array
  gone: Int32Array
  updated: Int32Array
}
type Candidates = CandidatePages & { still: Float64Array }
type Kept = {
  edition: number
  candidates: Map<string, Candidates>
  homes: Map<string, Page[]>
  mates: Head[][]
  titles: Array<{ lower: string; trunks: string[] } | undefined>
}
const keptOf = new WeakMap<World, Kept>()
function kept(world: World): Kept {
  let known = keptOf.get(world)
  if (known?.edition !== world.edition) {
    known = {
      edition: world.edition,
      candidates: new Map(),
      homes: new Map(),
      mates: known?.mates ?? matesOf(world.heads),
      titles: known?.titles ?? [],
    }
    keptOf.set(world, known)
  }
  return known
}

/** Home pages that may answer a query about a group: of the 80 most linked-to sites at most. */
function homesFor(world: World, language: string, group: string): Page[] {
  const { homes } = kept(world)
  const key = `${language}:${group}`
  let list = homes.get(key)
  if (!list) {
    list = world.sites
      .filter(site => site.language === language && site.groups.includes(group))
      .sort((a, b) => b.appeal - a.appeal || a.id - b.id)
      .slice(0, 80)
      .map(site => world.pagesOfSite[site.id]![0]!)
    homes.set(key, list)
  }
  return list
}

const mostCandidates = 400
/** Pages that may answer a need, with the part of their score that is the same for all its wordings and all days. */
function candidatesFor(world: World, query: Query, setting: Setting): Candidates {
  const known = kept(world)
  const cacheKey = `${setting.engine}|${setting.device}|${setting.place}|${query.need}`
  const ready = known.candidates.get(cacheKey)
  if (ready) return ready
  const head = world.heads[query.head]!
  const pool: Page[] = []
  if (head.site !== undefined) {
    pool.push(...world.pagesOfSite[head.site]!.slice(0, 120))
    for (const site of world.sites)
      if (site.language === query.language && ['directory', 'forum', 'rival', 'marketplace', 'own'].includes(site.kind))
        pool.push(...world.pagesOfSite[site.id]!.slice(0, 3).filter(page => page.site !== head.site))
  } else {
    for (const page of world.pagesOfHead[head.id]!) pool.push(page)
    if (head.parent !== undefined) pool.push(...world.pagesOfHead[head.parent]!)
    pool.push(...homesFor(world, query.language, head.group))
    for (const mate of known.mates[head.id]!)
      for (const page of world.pagesOfHead[mate.id]!)
        if (page.aspect === query.aspect ? pool.length < 300 : pool.length < 160 && unit(page.id, query.head, 5) < 0.3)
          pool.push(page)
  }
  let pages = pool
  if (pool.length > mostCandidates)
    pages = pool
      .map(page => ({ page, worth: relevanceOf(world, query, page) }))
      .sort((a, b) => b.worth - a.worth || a.page.id - b.page.id)
      .slice(0, mostCandidates)
      .map(each => each.page)
  const placeHash = textHash(setting.place)
  const engineCode = engineSpec[setting.engine].code
  const deviceCode = setting.device === 'mobile' ? 1 : 0
  const key = mix(world.seed, query.need)
  const relevance = new Float64Array(pages.length)
  const still = new Float64Array(pages.length)
  pages.forEach((page, i) => {
    const site = world.sites[page.site]!
    const fit = relevanceOf(world, query, page)
    relevance[i] = fit
    still[i] =
      stillScore(
        setting,
        fit,
        servesIntent(query, page.kind),
        page.quality,
        localityOf(query, setting, site),
        site.mobile,
      ) +
      0.16 * bell3(key, page.id, engineCode) +
      0.03 * bell3(key, page.id, placeHash) +
      0.04 * bell3(key, page.id, 17 + deviceCode)
  })
  const column = (read: (page: Page) => number): Int32Array => Int32Array.from(pages, read)
  const made = {
    pages,
    relevance,
    still,
    ids: column(page => page.id),
    sites: column(page => page.site),
    born: column(page => page.born),
    gone: column(page => page.gone),
    updated: column(page => page.updated),
  }
  known.candidates.set(cacheKey, made)
  if (known.candidates.size > 1_500) known.candidates.delete(known.candidates.keys().next().value!)
  return made
}

/** Share of the query that a page's title has: 1 for the whole phrase, up to 0.7 for its words. */
export function titleShare(world: World, query: Query, stems: string[], page: Page): number {
  const { titles } = kept(world)
  let title = titles[page.id]
  if (!title) titles[page.id] = title = { lower: page.title.toLowerCase(), trunks: trunksOf(page.title) }
  if (title.lower.includes(query.phrase)) return 1
  let hit = 0
  for (const stem of stems) if (title.trunks.includes(stem)) hit++
  return (0.7 * hit) / stems.length
}

/** Candidates of a query in a setting with the part of their score that no day changes. */
export function planRanking(world: World, query: Query, setting: Setting): Plan {
  const spec = engineSpec[setting.engine]
  const { still, ...candidates } = candidatesFor(world, query, setting)
  const { pages, relevance } = candidates
  const stems = query.words.map(trunk)
  const key = mix(world.seed, query.id, 7)
  const base = new Float64Array(pages.length)
  for (let i = 0; i < pages.length; i++)
    base[i] =
      still[i]! +
      spec.title * titleShare(world, query, stems, pages[i]!) * fitOf(relevance[i]!, 1) +
      0.17 * bell3(key, pages[i]!.id, spec.code)
  return { query, setting, ...candidates, base, engineCode: spec.code }
}
