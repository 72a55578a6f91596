import type { MonthChange } from '@dew-trail/contract/rivals'
import type { Context } from '../../context.ts'
import { visitReader } from '../../domain/chances/visits-of.ts'
import { needMarket } from '../../domain/sites/need-market.ts'
import { manyFigures } from '../../domain/keywords/phrase-figures.ts'
import { readEdition } from './read-edition.ts'

const [mostRows, mostPages] = [500, 60]

/**
 * What changed for a site between two months by the rankings feed, which is asked for both. Of keywords those first whose visits changed
 * most, then those of unknown searches; pages by how many keywords they won or lost.
 */
export async function readChanges(
  context: Context,
  siteId: number,
  marketId: number,
  domain: string,
  before: string,
  month: string,
) {
  const market = await needMarket(context.pool, siteId, marketId)
  const [earlier, later] = [
    await readEdition(context, market, domain, 'full', before),
    await readEdition(context, market, domain, 'full', month),
  ]
  const then = new Map(earlier.rows.map(row => [row.phrase, row]))
  const now = new Map(later.rows.map(row => [row.phrase, row]))
  const phrases = [...new Set([...then.keys(), ...now.keys()])]
  const figures = await manyFigures(context.pool, siteId, market.place, market.language, phrases)
  const reader = await visitReader(context.pool, siteId, market)
  const rows: MonthChange[] = []
  for (const phrase of phrases) {
    const [was, is] = [then.get(phrase), now.get(phrase)]
    if (was?.position === is?.position) continue
    const searches = figures.get(phrase)?.searches ?? null
    const brand = reader.brandOf(phrase) !== null
    const at = (position: number | undefined): number | null =>
      position === undefined ? (searches === null ? null : 0) : reader.visitsAt(position, searches, null, brand)
    const [brought, brings] = [at(was?.position), at(is?.position)]
    rows.push({
      phrase,
      before: was?.position ?? null,
      now: is?.position ?? null,
      page: (is ?? was)!.url,
      searches,
      visits: brought === null || brings === null ? null : brings - brought,
    })
  }
  const size = (row: MonthChange): number => Math.abs(row.visits ?? -1)
  rows.sort((a, b) => size(b) - size(a) || (a.phrase < b.phrase ? -1 : 1))
  const count = (list: readonly { url: string }[]): Map<string, number> => {
    const counts = new Map<string, number>()
    for (const { url } of list) counts.set(url, (counts.get(url) ?? 0) + 1)
    return counts
  }
  const [had, has] = [count(earlier.rows), count(later.rows)]
  const pages = [...new Set([...had.keys(), ...has.keys()])]
    .map(url => ({ url, before: had.get(url) ?? 0, now: has.get(url) ?? 0 }))
    .filter(page => page.before !== page.now)
    .sort((a, b) => Math.abs(b.now - b.before) - Math.abs(a.now - a.before) || (a.url < b.url ? -1 : 1))
  return {
    entered: rows.filter(row => row.before === null).length,
    left: rows.filter(row => row.now === null).length,
    rose: rows.filter(row => row.before !== null && row.now !== null && row.now < row.before).length,
    fell: rows.filter(row => row.before !== null && row.now !== null && row.now > row.before).length,
    rows: rows.slice(0, mostRows),
    pages: pages.slice(0, mostPages),
  }
}
