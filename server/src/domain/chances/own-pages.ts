import type { Market } from '@dew-trail/contract/sites'
import { deepestCompeting } from '@dew-trail/core/themes/competing-pages'
import type pg from 'pg'
import { maybeLogEnd, manyLoggedPages } from '../query-log/page-queries.ts'
import type { Db } from '../../platform/db/pool.ts'
import type { VisitReader } from './visits-of.ts'

/** Keywords with the place of each by its id, and what part of a sum each is. */
export type OwnFacts = {
  positionOf: ReadonlyMap<number, number>
  keywords: ReadonlyArray<{ phrase: string; searches: number | null; organicShare: number | null }>
  parts: readonly number[]
}

/** The log says which page stands for a query by the last so many days that it has. */
const logDays = 28
/** A page that was shown less often in that time may have stood there once. */
const leastImpressions = 5

/** Where an own page stands for a keyword: `keyword` its place in the facts; visits a month, null = unknown. */
export type OwnPage = {
  keyword: number
  page: string
  position: number
  visits: number | null
  seen: 'results' | 'log' | 'both'
}
export type OwnPages = {
  all: OwnPage[]
  /** The best placed own page of a keyword among its latest results; of keywords without one by the log. */
  bestOf: Map<number, OwnPage>
  /** The last day of the log by page; null where none is loaded. */
  logged: string | null
}

/**
 * Own pages by keyword, from the latest results and from the query log of 28 days. A position is that among the results, else the log's
 * mean; visits are the log's clicks, else searches × clicks at the position.
 */
export async function ownPages(
  pool: pg.Pool,
  site: { id: number; domain: string },
  market: Market,
  /** Whose keywords are asked about; null: all of the site. */
  groupingId: number | null,
  facts: OwnFacts,
  reader: VisitReader,
): Promise<OwnPages> {
  const found = new Map<string, OwnPage>()
  for (const row of await manyOwnResults(pool, site, market.id, groupingId)) {
    const keyword = facts.positionOf.get(row.keywordId)
    if (keyword === undefined) continue
    const { phrase, searches, organicShare } = facts.keywords[keyword]!
    const visits = reader.visitsAt(row.position, searches, organicShare, reader.brandOf(phrase) !== null)
    const part = visits === null ? null : visits * facts.parts[keyword]!
    found.set(`${keyword} ${row.page}`, {
      keyword,
      page: row.page,
      position: row.position,
      visits: part,
      seen: 'results',
    })
  }
  const logged = await maybeLogEnd(pool, site.id)
  if (logged)
    for (const row of await manyLoggedPages(pool, site.id, market, logDays, leastImpressions)) {
      const keyword = facts.positionOf.get(row.keywordId)
      if (keyword === undefined || row.position > deepestCompeting) continue
      const key = `${keyword} ${row.page}`
      const known = found.get(key)
      const visits = (row.clicks * 365) / 12 / row.days
      if (known) found.set(key, { ...known, visits, seen: 'both' })
      else found.set(key, { keyword, page: row.page, position: Math.max(1, row.position), visits, seen: 'log' })
    }
  const all = [...found.values()]
  const bestOf = new Map<number, OwnPage>()
  for (const each of all) {
    const best = bestOf.get(each.keyword)
    const [asResult, bestAsResult] = [Number(each.seen !== 'log'), Number(best && best.seen !== 'log')]
    if (!best || asResult > bestAsResult || (asResult === bestAsResult && each.position < best.position))
      bestOf.set(each.keyword, each)
  }
  return { all, bestOf, logged }
}

async function manyOwnResults(
  db: Db,
  site: { id: number; domain: string },
  marketId: number,
  groupingId: number | null,
): Promise<Array<{ keywordId: number; page: string; position: number }>> {
  const { rows } = await db.query<{ keywordId: number; page: string; position: number }>(
    `select r.keyword_id "keywordId", a.url page, r.now position
     from result_site s join result_row r on r.site_id = $1 and r.market_id = $3 and r.on_site = s.id
       and r.now is not null
     join result_address a on a.site_id = $1 and a.id = r.page_id
     where s.site_id = $1
       and s.domain = $2 ${
         groupingId === null
           ? ''
           : `and exists (select from theme_keyword m
         where m.site_id = $1 and m.grouping_id = $4 and m.keyword_id = r.keyword_id)`
       }`,
    [site.id, site.domain, marketId, ...(groupingId === null ? [] : [groupingId])],
  )
  return rows
}

/** The own page that brings most of a theme, with its best position; undefined where none stands. */
export function bestOwnPage(
  standings: readonly OwnPage[],
): { page: string; position: number; visits: number | null; keywords: number } | undefined {
  const pages = new Map<string, { page: string; position: number; visits: number | null; keywords: number }>()
  for (const { page, position, visits } of standings) {
    const known = pages.get(page)
    if (!known) pages.set(page, { page, position, visits, keywords: 1 })
    else {
      known.position = Math.min(known.position, position)
      known.keywords++
      if (visits !== null) known.visits = (known.visits ?? 0) + visits
    }
  }
  return [...pages.values()].sort(
    (a, b) =>
      (b.visits ?? 0) - (a.visits ?? 0) ||
      a.position - b.position ||
      b.keywords - a.keywords ||
      (a.page < b.page ? -1 : 1),
  )[0]
}
