import type { Market } from '@dew-trail/contract/sites'
import { median } from '@dew-trail/core/demand/theil-sen'
import { besideVisits } from '@dew-trail/core/planning/beside-visits'
import { subjectChances } from '@dew-trail/core/rivals/subject-chance'
import { figureParts } from '@dew-trail/core/demand/shared-figures'
import type pg from 'pg'
import { manyChances } from '../../domain/chances/queries.ts'
import { visitReader, type VisitReader } from '../../domain/chances/visits-of.ts'
import { manyPageKeywords, manyPages, type PageKeywordRow, type PageRow } from '../../domain/plans/queries.ts'
import { needMarket, needSite } from '../../domain/sites/need-market.ts'
import type { SiteRow } from '../../domain/sites/queries.ts'
import { keywordFigures, type PageFigures } from './page-figures.ts'
import { readSettling, type Settling } from './read-settling.ts'
import { readStandings, type Standings } from './standing-keywords.ts'

export type Plan = {
  site: SiteRow
  market: Market
  reader: VisitReader
  standings: Standings
  /** How long pages take until they stand where they will. */
  settling: Settling
  pages: PageFigures[]
}

/** The planned pages of a site with what their keywords bring in a market, now and with the plan. */
export async function readPlan(pool: pg.Pool, siteId: number, marketId: number): Promise<Plan> {
  const [site, market] = await Promise.all([needSite(pool, siteId), needMarket(pool, siteId, marketId)])
  const reader = await visitReader(pool, siteId, market)
  const [pages, rows, standings, settling] = await Promise.all([
    manyPages(pool, siteId),
    manyPageKeywords(pool, siteId, marketId, market.place),
    readStandings(pool, site, market, reader),
    readSettling(pool, siteId, market),
  ])
  const isToBeMade = (page: PageRow): boolean => page.kind === 'new' && page.state !== 'published'
  const besideOf = pages.some(isToBeMade) ? besideVisits(visitsByPage(standings)) : () => []
  const byPage = new Map<number, PageKeywordRow[]>()
  for (const row of rows) {
    const list = byPage.get(row.pageId)
    if (list) list.push(row)
    else byPage.set(row.pageId, [row])
  }
  const leads = pages.filter(isToBeMade).flatMap(({ id }) => {
    const lead = byPage.get(id)?.[0]
    return lead ? [{ pageId: id, lead }] : []
  })
  const aroundOf = leads.length ? await chancesAround(pool, siteId, market, leads) : new Map<number, number>()
  return {
    site,
    market,
    reader,
    standings,
    settling,
    pages: pages.map(page => {
      const keywords = keywordFigures(byPage.get(page.id) ?? [], page.kind, reader, standings.byKeyword)
      // A page that is there has its other keywords already.
      const around = aroundOf.get(page.id) ?? 0
      const beside = isToBeMade(page) ? besideOf(keywords.length).map(each => each * around) : []
      return { page, keywords, around, beside, besideExpected: beside.length ? median(beside) : 0 }
    }),
  }
}

/** Keywords whose chances are looked at around those of the plan. */
const mostAround = 5_000
/** How easily the site gets on the first page around the lead of each page, where anything is known of that. */
async function chancesAround(
  pool: pg.Pool,
  siteId: number,
  market: Market,
  leads: ReadonlyArray<{ pageId: number; lead: PageKeywordRow }>,
): Promise<Map<number, number>> {
  const own = new Set(leads.map(({ lead }) => lead.id))
  const others = (await manyChances(pool, siteId, market.id, mostAround)).filter(each => !own.has(each.id))
  const around = subjectChances(
    [...leads.map(({ lead }) => lead.phrase), ...others.map(each => each.phrase)],
    [...leads.map(({ lead }) => lead.chance10 ?? Number.NaN), ...others.map(each => each.chance)],
    market.language,
    leads.keys(),
  )
  return new Map(leads.flatMap(({ pageId }, i) => (Number.isNaN(around[i]!) ? [] : [[pageId, around[i]!] as const])))
}

/** Visits of own pages by keyword, as far as they are known, forms of one keyword once. */
function visitsByPage({ own, keywords }: Standings): number[][] {
  const byPage = new Map<string, Array<{ family: string; searches: number | null; visits: number; counts: boolean }>>()
  for (const { page, keyword, visits, seen } of own.all) {
    if (visits === null) continue
    const { family, searches } = keywords[keyword]!
    const entry = { family, searches, visits, counts: seen !== 'results' }
    const list = byPage.get(page)
    if (list) list.push(entry)
    else byPage.set(page, [entry])
  }
  return [...byPage.values()].map(list => {
    const parts = figureParts(list)
    return list.map(({ visits, counts }, i) => (counts ? visits : visits * parts[i]!))
  })
}
