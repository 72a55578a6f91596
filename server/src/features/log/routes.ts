import { loadLog, readClickCurves, readLogState } from '@dew-trail/contract/log'
import { clickShare, curveFromFirst, curveShare } from '@dew-trail/core/demand/click-curve'
import { fittedPositions } from '@dew-trail/core/demand/fit-click-curve'
import type { Router } from 'express'
import type { Context } from '../../context.ts'
import { insertGathering, setGatheringJob } from '../../domain/keywords/queries.ts'
import { mount } from '../../platform/http/mount.ts'
import { needMarket, needSite } from '../../domain/sites/need-market.ts'
import { SourceError } from '../../platform/outside/source-error.ts'
import { manyCurves, manyProperties, onePropertyId, setPropertyGathering } from '../../domain/query-log/queries.ts'

export function mountLog(router: Router, context: Context): void {
  const { pool } = context
  mount(router, readLogState, async ({ siteId }) => {
    await needSite(pool, siteId)
    const loaded = await manyProperties(pool, siteId)
    try {
      const available = await context.sources.logProperties()
      return { available: available.map(each => ({ property: each.id, name: each.name })), problem: null, loaded }
    } catch (error) {
      if (!(error instanceof SourceError)) throw error
      return { available: [], problem: error.message, loaded }
    }
  })
  mount(router, loadLog, async ({ siteId, marketId, property, weeks }) => {
    await needMarket(pool, siteId, marketId)
    const { gatheringId, propertyId } = await beginLog(context, siteId, marketId, property, property)
    const work = { marketId, property, propertyId, gatheringId, weeks }
    const job = await context.jobs.add(siteId, 'log', `Loading ${weeks} weeks of the query log`, work, property)
    await setGatheringJob(pool, siteId, gatheringId, job.id)
    context.events.publish(siteId, { type: 'gatherings' })
    return { jobId: job.id }
  })
  mount(router, readClickCurves, async ({ siteId }) => {
    const { firstShare } = await needSite(pool, siteId)
    const curves = await manyCurves(pool, siteId)
    return (['desktop', 'mobile'] as const).flatMap(device =>
      [false, true].map(brand => {
        const curve = curves.find(each => each.device === device && each.brand === brand)
        const used = brand || firstShare === null ? curve?.shares : curveFromFirst(firstShare, device, curve?.shares)
        return {
          device,
          brand,
          fittedAt: curve?.fittedAt ?? null,
          positions: Array.from({ length: fittedPositions }, (_, i) => ({
            position: i + 1,
            standard: clickShare(i + 1, device),
            fitted: curve?.shares[i] ?? null,
            used: curveShare(i + 1, device, used),
            impressions: Number(curve?.impressions[i] ?? 0),
          })),
        }
      }),
    )
  })
}

/** The property's row and the gathering under which its queries stand among the seeds. */
export async function beginLog(
  context: Context,
  siteId: number,
  marketId: number,
  property: string,
  name: string,
): Promise<{ propertyId: number; gatheringId: number }> {
  const propertyId = await onePropertyId(context.pool, siteId, property, name)
  const known = (await manyProperties(context.pool, siteId)).find(each => each.id === propertyId)?.gatheringId
  if (known) return { propertyId, gatheringId: known }
  const gatheringId = await insertGathering(context.pool, {
    siteId,
    marketId,
    parentId: null,
    seed: `query log: ${name.replace(/^(domain:|https?:\/\/)/, '')}`,
    ways: ['log'],
    mostIdeas: 0,
  })
  await setPropertyGathering(context.pool, siteId, propertyId, gatheringId)
  return { propertyId, gatheringId }
}
