import type { LandingPage } from '@dew-trail/contract/rivals'
import { readTarget } from '@dew-trail/core/rivals/target'
import { topRows } from '@dew-trail/core/tables/top-rows'
import type pg from 'pg'
import { manyReadPages } from '../../domain/graph/content-queries.ts'
import { nextFor, type OwnKeyword } from './next-for-page.ts'
import { manyAddresses, manyPageFacts, manyPlannedKeys, manyStates } from './queries.ts'
import { type OpenMarket, type Ranked, rankedRow, readRanked } from './ranked.ts'
import { sumPages } from './sum-pages.ts'

const graphId = 1

/** The pages of a target that stand for keywords, by visits; own ones with what to do next come first. */
export async function readLandingPages(pool: pg.Pool, open: OpenMarket, text: string, most: number) {
  const target = readTarget(text)!
  const ranked = await readRanked(pool, open, target)
  if (!ranked) return { coverage: open.coverage, total: 0, rows: [] }
  const { ids, sums } = sumPages(ranked)
  const brought = Float64Array.from(ids, (_, at) => (sums.visitsKnown[at] ? sums.visits[at]! : Number.NaN))
  const own = target.domain === open.site.domain
  // What to do next is asked of every own page, since it decides which come first.
  const positions = topRows(brought, own ? ids.length : most)
  const pageIds = positions.map(at => ids[at]!)
  const { siteId } = open.at
  const [urls, facts, planned] = await Promise.all([
    manyAddresses(pool, siteId, pageIds),
    manyPageFacts(pool, siteId, pageIds),
    own ? manyPlannedKeys(pool, siteId) : null,
  ])
  const read = await manyReadPages(pool, graphId, [...new Set(urls.values())])
  const keywords = own ? await ownKeywords(pool, open, ranked) : null
  const pages = positions.map((at): LandingPage => {
    const id = ids[at]!
    const url = urls.get(id) ?? ''
    const fact = facts.get(id)
    const top = ranked.row[sums.top[at]!]!
    const page = {
      id,
      url,
      keywords: sums.keywords[at]!,
      within10: sums.within10[at]!,
      visits: sums.visitsKnown[at] ? sums.visits[at]! : null,
      visitsUnknown: sums.keywords[at]! - sums.visitsKnown[at]!,
      worth: sums.worthKnown[at] ? sums.worth[at]! : null,
      top: ranked.rankings.phrases[top]!,
      topPosition: ranked.rankings.now[top]!,
      linkingSites: fact?.linkingSites ?? null,
      words: read.get(url)?.words ?? null,
      readOn: read.get(url)?.readOn ?? null,
      planned: fact?.planned ?? null,
    }
    const next =
      planned && keywords
        ? nextFor(page, keywords.get(id) ?? [], planned, read.get(url)?.heads ?? null, open.market.language)
        : { next: null, why: null }
    return { ...page, ...next }
  })
  // The order by visits stays within both.
  const ordered = own
    ? [...pages.filter(page => page.next !== null), ...pages.filter(page => page.next === null)]
    : pages
  return { coverage: open.coverage, total: ids.length, rows: ordered.slice(0, most) }
}

/** The keywords of own pages, those that bring most first. */
async function ownKeywords(pool: pg.Pool, open: OpenMarket, ranked: Ranked) {
  const rows = topRows(ranked.visits, ranked.count)
    .map(i => rankedRow(ranked, i))
    .filter(row => row.now !== null)
  const { kept } = await manyStates(
    pool,
    open.at.siteId,
    rows.map(row => row.id),
  )
  const byPage = new Map<number, OwnKeyword[]>()
  for (const { pageId, id, phrase, now, pages, searches } of rows) {
    const keyword = { id, phrase, now: now!, pages, searches, kept: kept.has(id) }
    const group = byPage.get(pageId)
    if (group) group.push(keyword)
    else byPage.set(pageId, [keyword])
  }
  return byPage
}
