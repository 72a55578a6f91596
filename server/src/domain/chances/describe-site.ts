import type { Site } from '@dew-trail/contract/sites'
import { siteLevel } from '@dew-trail/core/links/standing-from-sites'
import { ownLevels } from '@dew-trail/core/results/first-page'
import { onScale } from '@dew-trail/core/results/level-scale'
import type { Db } from '../../platform/db/pool.ts'
import type { SiteRow } from '../sites/queries.ts'
import { scalesOf } from './level-scales.ts'
import { modelFor } from './model-for.ts'

/** A site with its level and bounds in each of its markets. */
export async function describeSite(db: Db, row: SiteRow, referenceSites: number): Promise<Site> {
  const level = siteLevel(row, referenceSites)
  const scales = await scalesOf(
    db,
    row.id,
    row.markets.map(market => market.id),
  )
  const levels = await Promise.all(
    row.markets.map(async market => {
      const scale = scales.get(market.id)!
      const model = await modelFor(db, row.id, market)
      return {
        marketId: market.id,
        level: level === null ? null : onScale(level, scale),
        ...ownLevels(level ?? 0, row, model, scale),
        scaleSites: scale.sites,
        scaleTakenOn: scale.takenOn,
        scaleDeep: scale.deep,
      }
    }),
  )
  return {
    id: row.id,
    domain: row.domain,
    name: row.name,
    linkingSites: row.linkingSites,
    linksAskedOn: row.linksAskedOn,
    levels,
    refreshWeighings: row.refreshWeighings,
    visitWorth: row.visitWorth,
    firstShare: row.firstShare,
    averageMonths: row.averageMonths,
    markets: row.markets,
  }
}
