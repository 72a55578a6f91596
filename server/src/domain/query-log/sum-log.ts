import { fitClickCurve, fittedPositions } from '@dew-trail/core/demand/fit-click-curve'
import { searchesFromLog } from '@dew-trail/core/demand/hidden-demand'
import { findBrand } from '@dew-trail/core/words/brand-words'
import type pg from 'pg'
import { inTransaction } from '../../platform/db/pool.ts'
import { settleHiddenDemand } from '../keywords/hidden-demand.ts'
import { brandsOf } from '../sites/brand-words.ts'
import { lockSite, touchAllKeywords } from '../sites/queries.ts'
import {
  analyzeLog,
  deleteOtherCurves,
  type LogTotal,
  manyLogTotals,
  manyPositionCounts,
  replaceLogSums,
  upsertCurve,
} from './queries.ts'

/** From how many impressions on a curve of its own is fitted. */
const fewestImpressions = 300

/**
 * Works out what derives from the query log: what each keyword got, the searches it must have, and click curves by device
 * and brand. Of properties that overlap, the one with the most impressions of a keyword counts.
 */
export async function sumLog(pool: pg.Pool, siteId: number): Promise<{ keywords: number; curves: number }> {
  await analyzeLog(pool)
  const best = new Map<string, LogTotal[]>()
  const seen = new Map<string, Map<number, LogTotal[]>>()
  for (const total of await manyLogTotals(pool, siteId)) {
    const key = `${total.keywordId}|${total.place}`
    let byProperty = seen.get(key)
    if (!byProperty) seen.set(key, (byProperty = new Map()))
    const list = byProperty.get(total.propertyId)
    if (list) list.push(total)
    else byProperty.set(total.propertyId, [total])
  }
  const impressionsOf = (list: LogTotal[]): number => list.reduce((sum, each) => sum + each.impressions, 0)
  for (const [key, byProperty] of seen)
    best.set(key, [...byProperty.values()].sort((a, b) => impressionsOf(b) - impressionsOf(a))[0]!)
  const sums = [...best.values()]
    .filter(list => impressionsOf(list) > 0)
    .map(list => {
      const impressions = impressionsOf(list)
      return {
        keywordId: list[0]!.keywordId,
        place: list[0]!.place,
        days: list[0]!.days,
        impressions,
        clicks: list.reduce((sum, each) => sum + each.clicks, 0),
        position: list.reduce((sum, each) => sum + each.impressions * each.position, 0) / impressions,
        searches: list.reduce(
          (sum, each) =>
            sum + searchesFromLog({ ...each, position: Math.max(1, each.position) }, each.days, each.device),
          0,
        ),
      }
    })
  const curves = await fitCurves(pool, siteId)
  await inTransaction(pool, async db => {
    await lockSite(db, siteId)
    await replaceLogSums(db, siteId, sums)
    await settleHiddenDemand(db, siteId)
    await deleteOtherCurves(db, siteId, curves)
    for (const curve of curves) await upsertCurve(db, siteId, curve)
    await touchAllKeywords(db, siteId)
  })
  return { keywords: sums.length, curves: curves.length }
}

async function fitCurves(
  pool: pg.Pool,
  siteId: number,
): Promise<Array<{ device: 'desktop' | 'mobile'; brand: boolean; shares: number[]; impressions: number[] }>> {
  const brands = await brandsOf(pool, siteId)
  const isBrand = new Map<number, boolean>()
  const counts = new Map<string, Array<{ impressions: number; clicks: number }>>()
  for (const row of await manyPositionCounts(pool, siteId)) {
    let brand = isBrand.get(row.keywordId)
    if (brand === undefined) isBrand.set(row.keywordId, (brand = findBrand(row.phrase, brands) !== null))
    const key = `${row.device}|${brand}`
    let list = counts.get(key)
    if (!list) counts.set(key, (list = Array.from({ length: fittedPositions }, () => ({ impressions: 0, clicks: 0 }))))
    const at = list[row.position - 1]
    if (!at) continue
    at.impressions += row.impressions
    at.clicks += Math.min(row.clicks, row.impressions)
  }
  return [...counts].flatMap(([key, list]) => {
    const [device, brand] = key.split('|') as ['desktop' | 'mobile', string]
    if (list.reduce((sum, each) => sum + each.impressions, 0) < fewestImpressions) return []
    return [{ device, brand: brand === 'true', ...fitClickCurve(list, device) }]
  })
}
