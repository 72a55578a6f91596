import type { Market } from '@dew-trail/contract/sites'
import type { MovedFigures } from '@dew-trail/contract/weigh'
import { AppError } from '@dew-trail/contract/errors'
import { fewestSites, sitesForScale } from '@dew-trail/core/results/level-scale'
import type { Context } from '../../context.ts'
import { scaleOf, takeScale } from '../../domain/chances/level-scales.ts'
import { marketFigures, withMovedFigures } from '../../domain/chances/market-figures.ts'
import { modelFor } from '../../domain/chances/model-for.ts'
import { needMarket, needSite } from '../../domain/sites/need-market.ts'
import type { SiteRow } from '../../domain/sites/queries.ts'
import type { JobControl } from '../../platform/jobs/job-control.ts'
import { rescore } from './rescore.ts'

/**
 * Takes the scale of a market the first time that enough of its sites are known, and judges what was weighed by it. Gives what the figures were
 * before and are now; nothing where no better one can be had than there is.
 */
export async function takeFirstScale(
  context: Context,
  site: SiteRow,
  market: Market,
  signal: AbortSignal,
): Promise<{ moved?: MovedFigures }> {
  const { pool, config } = context
  const { deep, sites } = await scaleOf(pool, site.id, market.id)
  if (deep || (sites ?? 0) >= sitesForScale) return {}
  const before = await marketFigures(pool, site.id, market)
  if (!(await takeScale(pool, site.id, market.id, config.STANDING_REFERENCE_SITES, false))) return {}
  await rescore(context, site, market, await modelFor(pool, site.id, market), signal)
  return { moved: { marketId: market.id, before, after: await marketFigures(pool, site.id, market) } }
}

/** Takes the scale of a market anew and judges what was weighed by it; its result says what the figures were before and are now. */
export async function scaleJob(context: Context, control: JobControl): Promise<object> {
  const { pool, config } = context
  const { siteId } = control
  const site = await needSite(pool, siteId)
  const market = await needMarket(pool, siteId, Number(control.job.payload.marketId))
  const result = await withMovedFigures(pool, siteId, market.id, async () => {
    if (!(await takeScale(pool, siteId, market.id, config.STANDING_REFERENCE_SITES, true)))
      throw new AppError(
        'conflict',
        `A scale takes ${fewestSites} sites whose links are known among the results of this market. Weigh more keywords first.`,
      )
    return { rescored: await rescore(context, site, market, await modelFor(pool, siteId, market), control.signal) }
  })
  context.events.publish(siteId, { type: 'keywords' })
  return result
}
