import type { PlannedPage } from '@dew-trail/contract/plan'
import { figureParts } from '@dew-trail/core/demand/shared-figures'
import type pg from 'pg'
import { manyCurrentThemes } from '../../domain/themes/queries.ts'
import { needMarket } from '../../domain/sites/need-market.ts'
import { visitReader } from '../../domain/chances/visits-of.ts'
import { manyPageKeywords, manyPages, type PageKeywordRow } from '../../domain/plans/queries.ts'

/** Planned pages with sums over their keywords. A sum counts what is known and says how many are not; nothing known is unknown, not 0. */
export async function listPlannedPages(
  pool: pg.Pool,
  siteId: number,
  marketId: number,
  today: string,
): Promise<PlannedPage[]> {
  const market = await needMarket(pool, siteId, marketId)
  const reader = await visitReader(pool, siteId, market)
  const pages = await manyPages(pool, siteId)
  const keywords = await manyPageKeywords(pool, siteId, marketId, market.place)
  const byPage = groupByPage(keywords)
  const themes = await manyCurrentThemes(pool, siteId, marketId)
  return pages.map(page => {
    const rows = (byPage.get(page.id) ?? []).map(row => ({
      ...row,
      chance: row.chance10,
      visits: reader.visits(row.searches, row, reader.brandOf(row.phrase) !== null),
    }))
    const parts = figureParts(rows)
    const searches = sumKnown(
      rows.map(row => row.searches),
      parts,
    )
    const visits = sumKnown(
      rows.map(row => row.visits),
      parts,
    )
    const difficulties = rows.map(row => row.difficulty).filter(value => value !== null)
    const weights = rows.filter(row => row.cpc !== null && row.searches !== null)
    const weight = weights.reduce((sum, row) => sum + row.searches!, 0)
    return {
      ...page,
      late: page.state !== 'published' && page.deadline !== null && page.deadline < today,
      searches: searches.sum,
      searchesUnknown: searches.unknown,
      visits: visits.sum,
      visitsUnknown: visits.unknown,
      difficultyFrom: difficulties.length ? Math.min(...difficulties) : null,
      difficultyTo: difficulties.length ? Math.max(...difficulties) : null,
      cpc: weight > 0 ? weights.reduce((sum, row) => sum + row.cpc! * row.searches!, 0) / weight : null,
      themes: themesOf(rows.flatMap(row => themes.get(row.id) ?? [])),
      keywords: rows.map(({ id, phrase, searches: own, difficulty, chance, visits: each, tracked }) => ({
        id,
        phrase,
        searches: own,
        difficulty,
        chance,
        visits: each,
        tracked,
      })),
    }
  })
}

/** Themes by how many keywords are in them. */
function themesOf(names: readonly string[]): string[] {
  const counts = new Map<string, number>()
  for (const name of names) counts.set(name, (counts.get(name) ?? 0) + 1)
  return [...counts].sort(([a, m], [b, n]) => n - m || (a < b ? -1 : 1)).map(([name]) => name)
}

function groupByPage(rows: PageKeywordRow[]): Map<number, PageKeywordRow[]> {
  const map = new Map<number, PageKeywordRow[]>()
  for (const row of rows) {
    const list = map.get(row.pageId)
    if (list) list.push(row)
    else map.set(row.pageId, [row])
  }
  return map
}

function sumKnown(values: Array<number | null>, parts: number[]): { sum: number | null; unknown: number } {
  const known = values.flatMap((value, i) => (value === null ? [] : [value * parts[i]!]))
  return {
    sum: known.length ? known.reduce((sum, value) => sum + value, 0) : null,
    unknown: values.length - known.length,
  }
}
