import {
  type LandingPage,
  type PageFeature,
  pageFeatures,
  type RankedKeyword,
  type RivalProfile,
} from '@dew-trail/contract/rivals'
import { readTarget, type Target } from '@dew-trail/core/rivals/target'
import { subjectsOf } from '@dew-trail/core/rivals/subjects'
import { coverageOf } from '@dew-trail/core/words/coverage'
import { brandFinder, brandWordings } from '@dew-trail/core/words/brand-words'
import { normalForm } from '@dew-trail/core/words/normal-form'
import { splitWords } from '@dew-trail/core/words/split-words'
import { pageIdentity } from '@dew-trail/core/web/page-identity'
import type pg from 'pg'
import type { PageFeatures } from '../../domain/chances/queries.ts'
import { visitReader } from '../../domain/chances/visits-of.ts'
import { manyReadPages } from '../../domain/graph/content-queries.ts'
import { manyStandings } from '../../domain/graph/queries.ts'
import { pageKey } from '../../domain/pages/page-key.ts'
import { needMarket, needSite } from '../../domain/sites/need-market.ts'
import { manyLoads } from './known-queries.ts'
import { manyPaid } from './paid-queries.ts'
import {
  type InMarket,
  manyAddresses,
  manyFeatures,
  manyPageFacts,
  maybeLogged,
  manyPlannedKeys,
  manyRankings,
  maybeFilter,
  oneCoverage,
} from './queries.ts'

const graphId = 1
/** Most keywords of a target that are listed, those that bring most; its sums go over all. */
const mostListed = 50_000
/** Subjects are read off so many keywords, those that bring most. */
const subjectKeywords = 2_000
const mostSubjects = 5
/** Of what a site pays for, so many are named in its profile. */
const mostNamed = 3

type Ranked = Omit<
  RankedKeyword,
  'page' | 'visitsShare' | 'worthShare' | 'results' | 'features' | 'held' | 'withheld'
> & {
  pageId: number
}
type Sums = { visits: number | null; visitsUnknown: number; worth: number | null; worthUnknown: number }

/** A sum of nothing but unknown figures is unknown; a sum of nothing is zero. */
function sumOf(values: ReadonlyArray<number | null>): { sum: number | null; unknown: number } {
  const known = values.filter(value => value !== null)
  return {
    sum: values.length && !known.length ? null : known.reduce((sum, value) => sum + value, 0),
    unknown: values.length - known.length,
  }
}
export function sumsOf(rows: readonly Ranked[]): Sums {
  const standing = rows.filter(row => row.now !== null)
  const visits = sumOf(standing.map(row => row.visits))
  const worth = sumOf(standing.map(row => row.worth))
  return { visits: visits.sum, visitsUnknown: visits.unknown, worth: worth.sum, worthUnknown: worth.unknown }
}

/** What is known of a market's results, and what visits are worked out by: read once for all targets of a question. */
export async function openMarket(pool: pg.Pool, siteId: number, marketId: number, targets: readonly string[]) {
  const site = await needSite(pool, siteId)
  const market = await needMarket(pool, siteId, marketId)
  const reader = await visitReader(pool, siteId, market)
  const domains = targets.length ? targets.map(text => readTarget(text)!.domain) : [site.domain]
  const at: InMarket = { siteId, marketId, place: market.place }
  return { site, market, reader, at, coverage: await oneCoverage(pool, at, domains) }
}
export type OpenMarket = Awaited<ReturnType<typeof openMarket>>

/** Keywords for which a target stands or stood before, with the visits and the worth of its place. */
export async function readRanked(pool: pg.Pool, open: OpenMarket, target: Target): Promise<Ranked[]> {
  const { site, reader, at } = open
  const filter = await maybeFilter(pool, at.siteId, target)
  if (!filter) return []
  const words = brandWordings(target.domain, target.domain).map(word => splitWords(normalForm(word)).join(' '))
  const named = brandFinder([{ owner: target.domain, own: target.domain === site.domain, words }])
  // Written out: of 400,000 rows, taking some fields off and spreading the rest takes longer than all else.
  return (await manyRankings(pool, at, filter, site.domain)).map(row => {
    const { id, phrase, now, before, fed, pageId, pages, searches, cpc, own, difficulty, kept, tracked } = row
    const visits =
      now === null ? null : reader.visitsAt(now, searches, row.organicShare, reader.brandOf(phrase) !== null)
    return {
      id,
      phrase,
      now,
      before,
      fed,
      pageId,
      pages,
      searches,
      cpc,
      own,
      difficulty,
      kept,
      tracked,
      entered: now !== null && before === null && row.compared,
      brand: named(phrase) !== null,
      chance: row.chance10,
      visits,
      worth: visits === null || cpc === null ? null : visits * cpc,
    }
  })
}

export async function readProfile(pool: pg.Pool, open: OpenMarket, text: string): Promise<RivalProfile> {
  const target = readTarget(text)!
  const rows = await readRanked(pool, open, target)
  const standing = rows.filter(row => row.now !== null)
  const within = (position: number): number => standing.filter(row => row.now! <= position).length
  const sums = sumsOf(rows)
  const [known] = await manyStandings(pool, graphId, [target.domain])
  const { month, keywords, spend, rows: most } = await readPaid(pool, open, target.domain, mostNamed)
  const brandVisits = standing.reduce((sum, row) => sum + (row.brand ? (row.visits ?? 0) : 0), 0)
  return {
    target: text,
    kind: target.kind,
    domain: target.domain,
    own: target.domain === open.site.domain,
    within: { 1: within(1), 3: within(3), 10: within(10), 30: within(30), 100: within(100) },
    ...sums,
    brandShare: sums.visits ? brandVisits / sums.visits : null,
    subjects: subjectsOf(
      standing
        .filter(row => row.searches !== null)
        .toSorted((a, b) => (b.visits ?? 0) - (a.visits ?? 0))
        .slice(0, subjectKeywords)
        .map(row => ({ phrase: row.phrase, weight: row.searches! })),
      open.market.language,
      mostSubjects,
    ).map(({ word, weight }) => ({ word, searches: weight })),
    pages: new Set(standing.map(row => row.pageId)).size,
    entered: standing.filter(row => row.entered).length,
    left: rows.length - standing.length,
    standing: known?.standing ?? null,
    linkingSites: known?.linkingSites ?? null,
    paid:
      month === null
        ? null
        : { month, keywords, spend, most: most.map(row => ({ phrase: row.phrase, spend: row.spend })) },
  }
}

/** What a site pays for in the newest month that the ads data was asked for; `month` null: it was not asked. The first `most` rows. */
async function readPaid(pool: pg.Pool, { at, site }: OpenMarket, domain: string, most: number) {
  const month = (await manyLoads(pool, at, [domain])).find(load => load.edition === 'paid')?.asOf ?? null
  const { rows, total, spend } = await manyPaid(pool, at, domain, site.domain, most)
  return { month, keywords: total, spend, rows }
}

/** The keywords that a target's site pays for, most spent first. */
export async function readPaidKeywords(pool: pg.Pool, open: OpenMarket, text: string) {
  const { domain } = readTarget(text)!
  const { rows, keywords: total, spend, month } = await readPaid(pool, open, domain, mostListed)
  return {
    rows: rows.map(row => ({ ...row, spendShare: spend ? row.spend / spend : null })),
    total,
    spend,
    month,
    domain,
  }
}

/** The keywords of a target, by visits. */
export async function readRankedKeywords(pool: pg.Pool, open: OpenMarket, text: string) {
  const target = readTarget(text)!
  const rows = await readRanked(pool, open, target)
  const { visits, worth } = sumsOf(rows)
  const listed = rows.toSorted((a, b) => (b.visits ?? -1) - (a.visits ?? -1) || a.id - b.id).slice(0, mostListed)
  const own = target.domain === open.site.domain
  const [urls, features, logged] = await Promise.all([
    manyAddresses(pool, open.at.siteId, [...new Set(listed.map(row => row.pageId))]),
    manyFeatures(
      pool,
      open.at,
      listed.filter(row => row.id > 0).map(row => row.id),
    ),
    own ? maybeLogged(pool, open.at) : null,
  ])
  const share = (part: number | null, whole: number | null): number | null =>
    part === null || !whole ? null : part / whole
  return {
    visits,
    worth,
    coverage: open.coverage,
    total: rows.length,
    rows: listed.map(({ pageId, ...row }) => ({
      ...row,
      ...featuresOf(features.get(row.id), target.domain),
      withheld: logged && row.now !== null && row.visits !== null ? !logged.has(row.id) : null,
      page: urls.get(pageId) ?? '',
      visitsShare: share(row.visits, visits),
      worthShare: share(row.worth, worth),
    })),
  }
}

/** What a first page shows besides results, and where it shows a site; unknown where it was not weighed. */
function featuresOf(
  page: PageFeatures | undefined,
  domain: string,
): Pick<RankedKeyword, 'results' | 'features' | 'held'> {
  if (!page) return { results: null, features: null, held: null }
  const shown: Record<PageFeature, boolean> = {
    answer: page.answer,
    questions: page.questions.length > 0,
    images: page.images,
    shopping: page.shopping > 0,
    map: page.map > 0,
    ads: page.ads > 0,
  }
  const { holders } = page
  return {
    results: page.results ?? null,
    features: pageFeatures.filter(feature => shown[feature]),
    held:
      holders === undefined
        ? null
        : (['answer', 'images', 'shopping'] as const).filter(feature => holders[feature].includes(domain)),
  }
}

/** The pages of a target that stand for keywords, by visits; own ones with what to do next come first. */
export async function readLandingPages(pool: pg.Pool, open: OpenMarket, text: string) {
  const target = readTarget(text)!
  const rows = (await readRanked(pool, open, target)).filter(row => row.now !== null)
  const byPage = new Map<number, typeof rows>()
  for (const row of rows) {
    const group = byPage.get(row.pageId)
    if (group) group.push(row)
    else byPage.set(row.pageId, [row])
  }
  const pageIds = [...byPage.keys()]
  const { siteId } = open.at
  const [urls, facts, planned] = await Promise.all([
    manyAddresses(pool, siteId, pageIds),
    manyPageFacts(pool, siteId, pageIds),
    manyPlannedKeys(pool, siteId),
  ])
  const own = target.domain === open.site.domain
  const read = await manyReadPages(pool, graphId, [...new Set(urls.values())])
  const pages = pageIds.map((id): LandingPage => {
    const group = byPage.get(id)!.toSorted((a, b) => (b.visits ?? -1) - (a.visits ?? -1) || a.now! - b.now!)
    const url = urls.get(id) ?? ''
    const { visits, visitsUnknown, worth } = sumsOf(group)
    const fact = facts.get(id)
    const page = {
      id,
      url,
      keywords: group.length,
      within10: group.filter(row => row.now! <= 10).length,
      visits,
      visitsUnknown,
      worth,
      top: group[0]!.phrase,
      topPosition: group[0]!.now!,
      linkingSites: fact?.linkingSites ?? null,
      words: read.get(url)?.words ?? null,
      readOn: read.get(url)?.readOn ?? null,
      planned: fact?.planned ?? null,
    }
    const next = own ? nextFor(page, group, planned, read.get(url)?.heads ?? null, open.market.language) : null
    return { ...page, ...(next ?? { next: null, why: null }) }
  })
  return {
    coverage: open.coverage,
    rows: pages.toSorted(
      (a, b) => Number(b.next !== null) - Number(a.next !== null) || (b.visits ?? -1) - (a.visits ?? -1),
    ),
  }
}

/** What to do next about an own page, with the reason: the gravest first. */
function nextFor(
  page: Pick<LandingPage, 'url' | 'linkingSites' | 'planned'>,
  group: ReadonlyArray<Ranked>,
  planned: ReadonlyMap<number, { key: string | null; title: string }>,
  heads: readonly string[] | null,
  language: string,
): Pick<LandingPage, 'next' | 'why'> {
  const key = pageKey(page.url)
  const elsewhere = group.find(row => {
    const plan = planned.get(row.id)
    return plan?.key && plan.key !== key
  })
  if (elsewhere) {
    const isHome = /^[^/]+\/$/.test(pageIdentity(page.url) ?? '')
    return {
      next: 'let the planned page stand',
      why: `${isHome ? 'the home page' : 'this page'} stands for "${elsewhere.phrase}", for which "${planned.get(elsewhere.id)!.title}" is planned: link to that page with these words`,
    }
  }
  const rivalled = group.find(row => row.pages > 1)
  if (rivalled)
    return {
      next: 'join or part two pages',
      why: `another page of yours stands for "${rivalled.phrase}" too: make one of them the page for it`,
    }
  const near = group.find(row => row.now! > 10 && row.now! <= 20 && (row.searches ?? 0) > 0)
  const cover = near && heads ? coverageOf(heads.join('\n'), language)(near.phrase) : null
  if (near && cover === 'no')
    return {
      next: 'make it fit better',
      why: `"${near.phrase}" stands at ${near.now}, just below the first page, and neither title nor headings have all its words`,
    }
  if (near && page.linkingSites === 0)
    return {
      next: 'get links',
      why: `"${near.phrase}" stands at ${near.now}, just below the first page, and no site that the feeds know links to the page`,
    }
  if (near)
    return {
      next: cover === null ? 'read it with the crawler' : 'put it beside the first page',
      why: `"${near.phrase}" stands at ${near.now}, just below the first page; ${cover === null ? 'whether the page fits is not known, as it was not read' : 'its title and headings have the words, so look what those above have more'}`,
    }
  if (page.planned === null && group.some(row => row.kept))
    return { next: 'put it on the plan', why: 'it stands for keywords that you keep and is not on the plan' }
  return { next: null, why: null }
}
