import { AppError } from '@dew-trail/contract/errors'
import { sitesForScale } from '@dew-trail/core/results/level-scale'
import type { Context } from '../../context.ts'
import { takeScale } from '../../domain/chances/level-scales.ts'
import { withMovedFigures } from '../../domain/chances/market-figures.ts'
import { modelFor } from '../../domain/chances/model-for.ts'
import { needMarket, needSite } from '../../domain/sites/need-market.ts'
import type { JobControl } from '../../platform/jobs/job-control.ts'
import { rescore } from './rescore.ts'

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
        `A scale takes ${sitesForScale} sites whose links are known among the results of this market. Weigh more keywords first.`,
      )
    return { rescored: await rescore(context, site, market, await modelFor(pool, siteId, market), control.signal) }
  })
  context.events.publish(siteId, { type: 'keywords' })
  return result
}
