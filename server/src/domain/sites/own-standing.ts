import { standingFromSites } from '@dew-trail/core/links/standing-from-sites'
import { ownLevels } from '@dew-trail/core/results/first-page'
import type { StrengthModel } from '@dew-trail/core/results/strength'
import type { Site } from '@dew-trail/contract/sites'
import type { SiteRow } from './queries.ts'

/** A site with what its linking sites say of its standing and levels. */
export function describeSite(row: SiteRow, referenceSites: number, model: StrengthModel): Site {
  const standing = standingFromSites(row.linkingSites, referenceSites)
  const levels = standing === null ? null : ownLevels(standing, row, model)
  return {
    id: row.id,
    domain: row.domain,
    name: row.name,
    standing,
    comfortable: levels?.comfortable ?? null,
    stretch: levels?.stretch ?? null,
    refreshWeighings: row.refreshWeighings,
    visitWorth: row.visitWorth,
    markets: row.markets,
  }
}
