import { defaultModel } from '@dew-trail/core/results/strength'
import { AppError } from '@dew-trail/contract/errors'
import type { createSite, Site } from '@dew-trail/contract/sites'
import type { z } from 'zod'
import type { Context } from '../context.ts'
import { inTransaction } from '../db/pool.ts'
import { fetchSiteFacts } from '../weigh/fetch-facts.ts'
import { needSite } from './need-market.ts'
import { describeSite } from './own-standing.ts'
import { insertSite, oneMarketId } from './queries.ts'

/** Adds a site with the four usual markets of a place and asks the link feed about it; an unreachable feed leaves the standing unknown. */
export async function addSite(context: Context, input: z.output<(typeof createSite)['input']>): Promise<Site> {
  const siteId = await inTransaction(context.pool, async db => {
    const made = await insertSite(db, input.domain, input.name)
    if (made === undefined) throw new AppError('conflict', `${input.domain} is already here`)
    for (const engine of ['lantern', 'plover'])
      for (const device of ['desktop', 'mobile'])
        await oneMarketId(db, made, { engine, place: input.place, language: input.language, device })
    return made
  })
  await fetchSiteFacts(context, [input.domain]).catch(error =>
    context.log.warn({ err: error }, 'site facts not fetched'),
  )
  return describeSite(await needSite(context.pool, siteId), context.config.STANDING_REFERENCE_SITES, defaultModel)
}
