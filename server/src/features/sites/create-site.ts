import { AppError } from '@dew-trail/contract/errors'
import type { createSite, Site } from '@dew-trail/contract/sites'
import { isTimeZone } from '@dew-trail/core/days/next-run'
import type { z } from 'zod'
import type { Context } from '../../context.ts'
import { inTransaction } from '../../platform/db/pool.ts'
import { fetchSiteFacts } from '../../domain/chances/fetch-facts.ts'
import { updateTimeZone } from '../../domain/schedules/queries.ts'
import { needSite } from '../../domain/sites/need-market.ts'
import { describeSite } from '../../domain/chances/describe-site.ts'
import { insertSite, manyRemovedSites, oneMarketId } from '../../domain/sites/queries.ts'

/** Adds a site with a market for each engine and device of a place, and asks the link feed about it; an unreachable feed leaves the standing unknown. */
export async function addSite(context: Context, input: z.output<(typeof createSite)['input']>): Promise<Site> {
  const engines = await context.sources.engines()
  const wanted = input.place ?? engines[0]!.places[0]!.place
  const offering = engines.flatMap(({ engine, devices, places }) => {
    const place = places.find(each => each.place === wanted)
    return place ? [{ engine, devices, languages: place.languages.map(each => each.language) }] : []
  })
  const language = input.language ?? offering[0]?.languages[0]
  const markets = offering.filter(each => each.languages.includes(language ?? ''))
  if (!language || !markets.length)
    throw new AppError('badInput', `No engine searches ${wanted}${input.language ? ` in "${input.language}"` : ''}`)
  if (input.timeZone !== undefined && !isTimeZone(input.timeZone))
    throw new AppError('badInput', `"${input.timeZone}" is no time zone that is known here`)
  const siteId = await inTransaction(context.pool, async db => {
    const made = await insertSite(db, input.domain, input.name)
    if (made === undefined) {
      const removed = (await manyRemovedSites(db)).find(each => each.domain === input.domain)
      throw new AppError(
        'conflict',
        removed
          ? `${input.domain} was removed, and its data is still there for a while. An administrator can bring it back on Sources.`
          : `${input.domain} is already here`,
      )
    }
    if (input.timeZone) await updateTimeZone(db, made, input.timeZone)
    for (const { engine, devices } of markets)
      for (const device of devices) await oneMarketId(db, made, { engine, place: wanted, language, device })
    return made
  })
  await fetchSiteFacts(context, [input.domain]).catch(error =>
    context.log.warn({ err: error }, 'site facts not fetched'),
  )
  return describeSite(context.pool, await needSite(context.pool, siteId), context.config.STANDING_REFERENCE_SITES)
}
