import type { pageHistory } from '@dew-trail/contract/track'
import { figureParts } from '@dew-trail/core/demand/shared-figures'
import { pageSums } from '@dew-trail/core/positions/page-sums'
import type pg from 'pg'
import type { z } from 'zod'
import { manyOrganicShares } from '../../domain/chances/queries.ts'
import { visitReader } from '../../domain/chances/visits-of.ts'
import { shiftDay } from '../../domain/positions/day-reader.ts'
import { dayAt, positionSeries } from '../../domain/positions/position-series.ts'
import { maybeLastDay } from '../../domain/positions/day-queries.ts'
import { manySlots } from '../../domain/positions/slot-queries.ts'
import { needMarket } from '../../domain/sites/need-market.ts'

type Ask = z.output<(typeof pageHistory)['input']>
/** What an own page stood for in a market, day by day: keywords for which it was found, and their visits at today's searches. */
export async function readPageHistory(
  pool: pg.Pool,
  { siteId, marketId, page, days }: Ask,
): Promise<z.output<(typeof pageHistory)['output']>> {
  const market = await needMarket(pool, siteId, marketId)
  const last = await maybeLastDay(pool, siteId, marketId)
  const { rows: ever } = await pool.query<{ slot: number }>(
    'select distinct slot from page_found where site_id = $1 and market_id = $2 and url = $3',
    [siteId, marketId, page],
  )
  const had = new Set(ever.map(row => row.slot))
  const tracked = (await manySlots(pool, siteId, market)).filter(row => had.has(row.slot))
  if (!last || !tracked.length) return { from: null, keywords: [], visits: [] }
  const from = shiftDay(last.day, 1 - days)
  const slots = tracked.map(row => row.slot)
  const [series, reader, organic, { rows: changes }] = await Promise.all([
    positionSeries(pool, siteId, marketId, slots, from, last.day),
    visitReader(pool, siteId, market),
    manyOrganicShares(pool, siteId, marketId),
    pool.query<{ slot: number; day: string; url: string | null }>(
      `select slot, day::text "day", url from page_found
       where site_id = $1 and market_id = $2 and slot = any($3) order by slot, day`,
      [siteId, marketId, slots],
    ),
  ])
  const pages = new Map<number, Array<{ from: number; page: string | null }>>()
  for (const { slot, day, url } of changes) {
    const list = pages.get(slot) ?? []
    list.push({ from: dayAt(from, day), page: url })
    pages.set(slot, list)
  }
  const parts = figureParts(tracked)
  const sums = pageSums(
    page,
    tracked.map(({ slot, phrase, searches, keywordId }, i) => {
      const brand = reader.brandOf(phrase) !== null
      return {
        positions: series.of.get(slot)!,
        pages: pages.get(slot) ?? [],
        part: parts[i]!,
        visitsAt: position => reader.visitsAt(position, searches, organic.get(keywordId) ?? null, brand),
      }
    }),
    days,
  )
  return { from, ...sums }
}
