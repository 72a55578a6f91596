import { AppError } from '@dew-trail/contract/errors'
import type { readKeptResults, resultHistory } from '@dew-trail/contract/track'
import { type DayResults, decodeMonth } from '@dew-trail/core/results/month-results'
import { notFound } from '@dew-trail/core/positions/day-vector'
import type pg from 'pg'
import type { z } from 'zod'
import { shiftDay } from '../../domain/positions/day-reader.ts'
import { dayAt } from '../../domain/positions/position-series.ts'
import { needSite } from '../../domain/sites/need-market.ts'
import { manyAddresses, manyAcceptedRivals, manyResultMonths } from './change-queries.ts'

const mostRivals = 5
const firstPage = 10
type KeptDay = Omit<DayResults, 'day'> & { day: string }

/** All kept days of a keyword's results from a day on, oldest first. */
async function keptDays(
  pool: pg.Pool,
  siteId: number,
  marketId: number,
  keywordId: number,
  from: string,
): Promise<KeptDay[]> {
  const months = await manyResultMonths(pool, siteId, marketId, [keywordId], from)
  return months.flatMap(({ month, days }) =>
    decodeMonth(days)
      .map(each => ({ ...each, day: `${month.slice(0, 8)}${String(each.day).padStart(2, '0')}` }))
      .filter(each => each.day >= from),
  )
}

/** Where rivals stood for a keyword day by day, by the result pages that were kept. */
export async function readResultHistory(
  pool: pg.Pool,
  { siteId, marketId, keywordId, from, days }: z.output<(typeof resultHistory)['input']>,
): Promise<z.output<(typeof resultHistory)['output']>> {
  const site = await needSite(pool, siteId)
  const until = shiftDay(from, days)
  const kept = (await keptDays(pool, siteId, marketId, keywordId, from)).filter(each => each.day < until)
  const addresses = await manyAddresses(pool, siteId, [...new Set(kept.flatMap(each => each.pages))])
  const accepted = new Set(await manyAcceptedRivals(pool, siteId))
  const byRival = new Map<string, { positions: number[]; often: number }>()
  for (const each of kept) {
    const at = dayAt(from, each.day)
    const seen = new Set<string>()
    each.pages.forEach((page, i) => {
      const domain = addresses.get(page)?.domain
      if (!domain || domain === site.domain || seen.has(domain)) return
      seen.add(domain)
      let known = byRival.get(domain)
      if (!known) {
        known = { positions: new Array<number>(days).fill(0), often: 0 }
        byRival.set(domain, known)
      }
      known.positions[at] = i + 1
      if (i < firstPage) known.often++
    })
  }
  const chosen = [...byRival]
    .filter(([domain]) => !accepted.size || accepted.has(domain))
    .sort(([a, one], [b, other]) => other.often - one.often || (a < b ? -1 : 1))
    .slice(0, mostRivals)
  // On a kept day a site that is not among the results was not found; on all others nobody looked.
  for (const [, { positions }] of chosen)
    for (const { day, depth } of kept) {
      const at = dayAt(from, day)
      if (positions[at] === 0) positions[at] = notFound(Math.max(1, depth))
    }
  return {
    rivals: chosen.map(([domain, { positions }]) => ({ domain, positions })),
    kept: kept.map(each => each.day).reverse(),
  }
}

/** The results that were kept of a day. */
export async function readKeptPage(
  pool: pg.Pool,
  { siteId, marketId, keywordId, day }: z.output<(typeof readKeptResults)['input']>,
): Promise<z.output<(typeof readKeptResults)['output']>> {
  const site = await needSite(pool, siteId)
  const [kept] = (await keptDays(pool, siteId, marketId, keywordId, day)).filter(each => each.day === day)
  if (!kept) throw new AppError('notFound', `No results of this keyword are kept of ${day}`)
  const addresses = await manyAddresses(pool, siteId, [...kept.pages])
  return {
    day,
    depth: kept.depth,
    results: kept.pages.map((page, i) => {
      const known = addresses.get(page)
      return {
        position: i + 1,
        domain: known?.domain ?? null,
        url: known?.url ?? null,
        own: known?.domain === site.domain,
      }
    }),
  }
}
