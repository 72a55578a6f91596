import type pg from 'pg'
import type { Market } from '@dew-trail/contract/sites'
import { type OwnPage, type OwnPages, ownPages } from '../../domain/chances/own-pages.ts'
import type { VisitReader } from '../../domain/chances/visits-of.ts'

export type StandingKeyword = {
  id: number
  phrase: string
  family: string
  searches: number | null
  organicShare: number | null
}
/**
 * Own standings in a market by keyword, best position first. Visits are of each keyword by itself: who sums them counts forms of one
 * once.
 */
export type Standings = {
  keywords: StandingKeyword[]
  byKeyword: Map<number, OwnPage[]>
  own: OwnPages
}

/** Where own pages stand for keywords of the site that are planned, among the latest results, or in the log. */
export async function readStandings(
  pool: pg.Pool,
  site: { id: number; domain: string },
  market: Market,
  reader: VisitReader,
): Promise<Standings> {
  const { rows: keywords } = await pool.query<StandingKeyword>(
    `with wanted as (
       select keyword_id id from page_plan_keyword where site_id = $1
       union select r.keyword_id from result_site s
         join result_row r on r.site_id = $1 and r.market_id = $2 and r.on_site = s.id and r.now is not null
         where s.site_id = $1 and s.domain = $3
       union select keyword_id from log_page_week where site_id = $1 and place = $4 and device = $5
         and week > (select max(week) from log_page_week where site_id = $1) - 28
     )
     select k.id, k.phrase, k.family, d.searches, w.organic_share "organicShare" from wanted
     join keyword k on k.site_id = $1 and k.id = wanted.id
     left join demand d on d.site_id = $1 and d.keyword_id = k.id and d.place = $4
     left join weighing w on w.site_id = $1 and w.keyword_id = k.id and w.market_id = $2`,
    [site.id, market.id, site.domain, market.place, market.device],
  )
  const positionOf = new Map(keywords.map((keyword, i) => [keyword.id, i]))
  const own = await ownPages(pool, site, market, null, { positionOf, keywords, parts: keywords.map(() => 1) }, reader)
  const byKeyword = new Map<number, OwnPage[]>()
  for (const each of own.all) {
    const { id } = keywords[each.keyword]!
    const list = byKeyword.get(id)
    if (list) list.push(each)
    else byKeyword.set(id, [each])
  }
  for (const list of byKeyword.values()) list.sort((a, b) => a.position - b.position)
  return { keywords, byKeyword, own }
}

/**
 * Visits a month that own pages get for one keyword together; null where they stand and it is not known how many, or nothing of them is
 * known.
 */
export function visitsOf(standings: readonly OwnPage[] | undefined): number | null {
  const known = standings?.flatMap(each => (each.visits === null ? [] : [each.visits])) ?? []
  return known.length ? known.reduce((sum, each) => sum + each, 0) : null
}
