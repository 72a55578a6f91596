import { mapFlags, type MapFlag, type SiteMap } from '@dew-trail/contract/site-map'
import { figureParts } from '@dew-trail/core/demand/shared-figures'
import { siteTree, type TreePage } from '@dew-trail/core/planning/site-tree'
import { competingPages, deepestCompeting } from '@dew-trail/core/themes/competing-pages'
import { pageIdentity } from '@dew-trail/core/web/page-identity'
import { LRUCache } from 'lru-cache'
import type pg from 'pg'
import type { OwnPage } from '../../domain/chances/own-pages.ts'
import { pageKey } from '../../domain/pages/page-key.ts'
import { needSite } from '../../domain/sites/need-market.ts'
import { manyCurrentThemes } from '../../domain/themes/queries.ts'
import { manyMapParents, manySearches } from './map-queries.ts'
import { manyCrawledPages, manyUnlinkedPages } from './own-site.ts'
import { type PageFigures, sumOf, visitsOfPage } from './page-figures.ts'
import { type Plan, readPlan } from './read-plan.ts'
import type { StandingKeyword } from './standing-keywords.ts'

type MapPage = TreePage & {
  address: string | null
  planned: PageFigures | null
  standing: Standing | null
  theme: string | null
  flags: number
  detail: string | null
}
/** What an own page stands for: the keywords for which it is the best placed own page. */
type Standing = {
  lead: StandingKeyword
  position: number
  searches: number | null
  visits: number | null
  theme: string | null
}

const flag = (name: MapFlag): number => 1 << mapFlags.indexOf(name)
/** Addresses of a site are met again and again: reading one takes longer than all else that is done with it. */
const known = new LRUCache<string, { identity: string | null; node: string | null }>({ max: 60_000 })
function addressFacts(url: string) {
  let facts = known.get(url)
  if (!facts) {
    const key = pageKey(url)
    known.set(url, (facts = { identity: pageIdentity(url), node: key === null ? null : `page:${key}` }))
  }
  return facts
}
const nodeOfUrl = (url: string): string | null => addressFacts(url).node
/** A planned page stands in the map by its address's key where it has one, so that it stays when it comes to the plan or leaves it. */
export const nodeOfPlanned = ({ id, pageKey: key }: { id: number; pageKey: string | null }): string =>
  key === null ? `plan:${id}` : `page:${key}`

/** The pages of a site as a tree: as crawled, as planned, and as results and the log show them. */
export async function readMap(pool: pg.Pool, siteId: number, marketId: number, today: string): Promise<SiteMap> {
  const plan = await readPlan(pool, siteId, marketId)
  const [crawled, themes, parents] = await Promise.all([
    manyCrawledPages(pool, plan.site.domain),
    manyCurrentThemes(pool, siteId, marketId),
    manyMapParents(pool, siteId),
  ])
  const standing = standingByPage(plan, themes)
  const pages = new Map<string, MapPage>()
  let read = 0
  let crawledOn: string | null = null
  for (const { url, title, status, canonical, readOn } of crawled) {
    const key = nodeOfUrl(url)
    if (key === null || pages.has(key)) continue
    // A page that names another as the one to show is not one to plan with.
    if (canonical !== null && nodeOfUrl(canonical) !== key) continue
    if (status !== 200) continue
    read++
    if (crawledOn === null || readOn > crawledOn) crawledOn = readOn
    pages.set(key, mapPage(key, url, title))
  }
  const gone = new Set(crawled.flatMap(page => (page.status === 200 ? [] : (nodeOfUrl(page.url) ?? []))))
  for (const url of standing.keys()) {
    const key = nodeOfUrl(url)!
    if (!pages.has(key) && !gone.has(key)) pages.set(key, mapPage(key, url, null))
  }
  const seenOnly = pages.size - read
  for (const each of plan.pages) {
    const { page } = each
    const key = nodeOfPlanned(page)
    const address = page.address === null ? null : new URL(page.address, `https://${plan.site.domain}`).href
    const known = pages.get(key)
    pages.set(key, { ...(known ?? mapPage(key, address, null)), name: page.title, planned: each })
    if (gone.has(key) && page.kind !== 'remove') note(pages.get(key)!, 'gone', null)
  }
  for (const [url, each] of standing) {
    const page = pages.get(nodeOfUrl(url)!)
    if (page) page.standing = each
  }
  for (const page of pages.values()) {
    page.parent =
      parents.get(page.key) ?? (page.planned ? parents.get(`plan:${page.planned.page.id}`) : undefined) ?? null
    page.weight = sumsOf(page).searches ?? 0
    const lead = page.planned?.keywords[0]
    page.theme = (lead ? themes.get(lead.id) : page.standing?.theme) ?? null
  }
  flagPages(plan, pages, themes, today)
  return {
    ...columnsOf([...pages.values()]),
    crawled: read,
    crawledOn,
    seenOnly,
    without: await withoutPage(pool, plan, themes),
    ...totalsOf(plan),
  }
}

export async function unlinkedPages(pool: pg.Pool, siteId: number): Promise<string[] | null> {
  const site = await needSite(pool, siteId)
  const urls = await manyUnlinkedPages(pool, site.domain)
  // The home page is where everybody begins.
  return urls?.filter(url => new URL(url).pathname !== '/').flatMap(url => nodeOfUrl(url) ?? []) ?? null
}

const mapPage = (key: string, address: string | null, title: string | null): MapPage => ({
  key,
  identity: address === null ? null : addressFacts(address).identity,
  parent: null,
  weight: 0,
  name: title?.trim() || nameOfAddress(address),
  address,
  planned: null,
  standing: null,
  theme: null,
  flags: 0,
  detail: null,
})
const nameOfAddress = (address: string | null): string => {
  if (address === null) return 'Page'
  const { pathname, search } = new URL(address)
  return pathname === '/' ? 'Home page' : `${pathname}${search}`
}

/** What each own page stands for within 30, by its address: searches of what it is the best placed own page for, visits of all. */
function standingByPage({ standings }: Plan, themes: ReadonlyMap<number, string>): Map<string, Standing> {
  const lists = new Map<string, Array<{ keyword: StandingKeyword; own: OwnPage; best: boolean }>>()
  for (const list of standings.byKeyword.values())
    for (const [i, own] of list.entries()) {
      if (own.position > deepestCompeting) continue
      const entry = { keyword: standings.keywords[own.keyword]!, own, best: i === 0 }
      const known = lists.get(own.page)
      if (known) known.push(entry)
      else lists.set(own.page, [entry])
    }
  return new Map([...lists].map(([page, list]) => [page, standingOf(list, themes)]))
}
function standingOf(
  list: ReadonlyArray<{ keyword: StandingKeyword; own: OwnPage; best: boolean }>,
  themes: ReadonlyMap<number, string>,
): Standing {
  const parts = figureParts(list.map(each => each.keyword))
  let [searches, visits]: [number | null, number | null] = [null, null]
  let lead = list[0]!
  for (const [i, each] of list.entries()) {
    const { keyword, own, best } = each
    if (best && keyword.searches !== null) searches = (searches ?? 0) + keyword.searches * parts[i]!
    if (own.visits !== null) visits = (visits ?? 0) + own.visits * (own.seen === 'results' ? parts[i]! : 1)
    if ((own.visits ?? -1) > (lead.own.visits ?? -1)) lead = each
  }
  const { keyword, own } = lead
  return { lead: keyword, position: own.position, searches, visits, theme: themes.get(keyword.id) ?? null }
}

/** Searches and visits of a page: of the keywords it is planned for where there are some, else of those it stands for. */
function sumsOf({ planned, standing }: MapPage) {
  const keywords = planned?.keywords ?? []
  const now = standing?.visits ?? null
  if (!planned || !keywords.length) return { searches: standing?.searches ?? null, now, visits: now }
  const figures = visitsOfPage(planned)
  return {
    searches: sumOf(keywords, each => each.inSums.searches).sum,
    now: figures.now,
    visits: figures.expected,
  }
}

function note(page: MapPage, name: MapFlag, detail: string | null): void {
  page.flags |= flag(name)
  page.detail ??= detail
}

function flagPages(
  plan: Plan,
  pages: ReadonlyMap<string, MapPage>,
  themes: ReadonlyMap<number, string>,
  today: string,
): void {
  for (const page of pages.values()) {
    if (!page.planned) {
      if (!page.standing) note(page, 'noTheme', null)
      continue
    }
    const { page: row, keywords } = page.planned
    if (row.state !== 'published' && row.deadline !== null && row.deadline < today) note(page, 'late', row.deadline)
    if (!keywords.length && row.kind !== 'remove' && row.kind !== 'merge') note(page, 'noTheme', null)
    const wrong = keywords.find(each => each.now && nodeOfUrl(each.now.page) !== page.key)
    if (wrong) {
      const other = pages.get(nodeOfUrl(wrong.now!.page)!)
      note(page, 'wrongPage', `${other?.name ?? wrong.now!.page} stands for "${wrong.phrase}"`)
    }
  }
  const byTheme = new Map<string, OwnPage[]>()
  for (const [id, list] of plan.standings.byKeyword) {
    const theme = themes.get(id)
    if (theme === undefined) continue
    const known = byTheme.get(theme)
    if (known) known.push(...list)
    else byTheme.set(theme, [...list])
  }
  for (const list of byTheme.values()) {
    if (list.length < 2) continue
    for (const { keep, give } of competingPages(list))
      for (const [one, other] of [
        [keep, give],
        [give, keep],
      ] as const) {
        const page = pages.get(nodeOfUrl(one)!)
        if (page && !(page.flags & flag('competes')))
          note(page, 'competes', pages.get(nodeOfUrl(other)!)?.name ?? other)
      }
  }
}

/** Visits a month of the site by all keywords that are known, and with what the plan adds; a keyword of two pages counts once. */
function totalsOf({ standings, pages }: Plan): Pick<SiteMap, 'visitsOfSite' | 'visitsWithPlan'> {
  const parts = figureParts(standings.keywords)
  let now = 0
  for (const { visits, seen, keyword } of standings.own.all)
    now += (visits ?? 0) * (seen === 'results' ? parts[keyword]! : 1)
  const gain = pages.reduce((sum, page) => sum + (visitsOfPage(page).gain ?? 0), 0)
  return { visitsOfSite: now, visitsWithPlan: now + gain }
}

/** Themes of which nothing is planned and for which no own page stands within 30. */
async function withoutPage(
  pool: pg.Pool,
  plan: Plan,
  themes: ReadonlyMap<number, string>,
): Promise<SiteMap['without']> {
  const covered = new Set<string>()
  for (const { keywords } of plan.pages)
    for (const { id } of keywords) {
      const theme = themes.get(id)
      if (theme !== undefined) covered.add(theme)
    }
  for (const [id, list] of plan.standings.byKeyword) {
    const theme = themes.get(id)
    if (theme !== undefined && list[0]!.position <= deepestCompeting) covered.add(theme)
  }
  const open = [...themes].filter(([, theme]) => !covered.has(theme))
  const rows = await manySearches(
    pool,
    plan.site.id,
    plan.market.place,
    open.map(([id]) => id),
  )
  const parts = figureParts(rows)
  const known = rows.flatMap(({ searches }, i) => (searches === null ? [] : [searches * parts[i]!]))
  return {
    themes: new Set(open.map(([, theme]) => theme)).size,
    searches: known.length ? known.reduce((sum, each) => sum + each, 0) : null,
  }
}

function columnsOf(
  pages: readonly MapPage[],
): Omit<SiteMap, 'crawled' | 'crawledOn' | 'seenOnly' | 'without' | 'visitsOfSite' | 'visitsWithPlan'> {
  const byKey = new Map(pages.map(page => [page.key, page]))
  const map: ReturnType<typeof columnsOf> = {
    nodes: [],
    parents: [],
    names: [],
    addresses: [],
    planned: [],
    kinds: [],
    states: [],
    deadlines: [],
    themes: [],
    leads: [],
    positions: [],
    searches: [],
    visitsNow: [],
    visits: [],
    flags: [],
    details: [],
  }
  for (const row of siteTree(pages)) {
    const page = byKey.get(row.key)
    const planned = page?.planned?.page
    const lead = page?.planned?.keywords[0]
    const sums = page && sumsOf(page)
    map.nodes.push(row.key)
    map.parents.push(row.parent)
    map.names.push(page?.name ?? `${row.folder!.slice(row.folder!.lastIndexOf('/'))}/`)
    map.addresses.push(page?.address ?? null)
    map.planned.push(planned?.id ?? null)
    map.kinds.push(planned?.kind ?? null)
    map.states.push(planned?.state ?? null)
    map.deadlines.push(planned?.deadline ?? null)
    map.themes.push(page?.theme ?? null)
    map.leads.push(lead?.phrase ?? page?.standing?.lead.phrase ?? null)
    map.positions.push(lead ? (lead.now?.position ?? null) : (page?.standing?.position ?? null))
    map.searches.push(sums?.searches ?? null)
    map.visitsNow.push(sums?.now ?? null)
    map.visits.push(sums?.visits ?? null)
    map.flags.push(page?.flags ?? 0)
    map.details.push(page?.detail ?? null)
  }
  return map
}
