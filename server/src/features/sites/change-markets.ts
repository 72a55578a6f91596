import { setTimeout as sleep } from 'node:timers/promises'
import { AppError } from '@dew-trail/contract/errors'
import type { Market } from '@dew-trail/contract/sites'
import type { Context } from '../../context.ts'
import { noteActivity } from '../../domain/people/activity.ts'
import { needMarket, needSite } from '../../domain/sites/need-market.ts'
import { deleteMarket, lockSite, markRemoved, oneMarketId } from '../../domain/sites/queries.ts'
import { inTransaction } from '../../platform/db/pool.ts'
import { manyJobs } from '../../platform/jobs/queries.ts'

/** How long the end of a site's work is waited for before it is removed. */
const mostWaitMs = 15_000

/** Adds a market after asking whether the engine offers it. */
export async function addOfferedMarket(
  context: Context,
  siteId: number,
  market: Pick<Market, 'engine' | 'place' | 'language' | 'device'>,
): Promise<Market> {
  const engine = (await context.sources.engines()).find(each => each.engine === market.engine)
  const place = engine?.places.find(each => each.place === market.place)
  const offered = engine?.devices.includes(market.device) && place?.languages.some(l => l.language === market.language)
  if (!offered)
    throw new AppError(
      'badInput',
      `No engine "${market.engine}" searches ${market.place} in "${market.language}" on ${market.device}`,
    )
  const marketId = await oneMarketId(context.pool, siteId, market)
  context.events.publish(siteId, { type: 'sites' })
  return needMarket(context.pool, siteId, marketId)
}

/** Removes a market with its positions, weighings and results. Throws "conflict" where it is the last, or work of the site is under way. */
export async function removeWholeMarket(
  context: Context,
  siteId: number,
  marketId: number,
): Promise<Record<string, never>> {
  const { markets } = await needSite(context.pool, siteId)
  const heir = markets.find(each => each.id !== marketId)
  if (!heir) throw new AppError('conflict', 'This is the only market of the site. Add another one first.')
  await endWork(context, siteId)
  await inTransaction(context.pool, async db => {
    await lockSite(db, siteId)
    await deleteMarket(db, siteId, marketId, heir.id)
  })
  context.events.publish(siteId, { type: 'sites' })
  context.events.publish(siteId, { type: 'keywords' })
  return {}
}

/** Removes a site, whose data goes a day later; its domain must be given to say that this is meant. */
export async function removeWholeSite(
  context: Context,
  siteId: number,
  domain: string,
): Promise<Record<string, never>> {
  const site = await needSite(context.pool, siteId)
  if (domain.toLowerCase() !== site.domain)
    throw new AppError('badInput', `domain: type ${site.domain} to remove it with all its data. Nothing was removed.`)
  await endWork(context, siteId)
  await inTransaction(context.pool, async db => {
    await lockSite(db, siteId)
    await markRemoved(db, siteId)
    await noteActivity(db, { kind: 'site', what: `Removed ${site.domain}; it can be brought back for a day` })
  })
  context.events.publish(null, { type: 'sites' })
  return {}
}

/** Cancels what is under way for a site and waits for its end. */
async function endWork(context: Context, siteId: number): Promise<void> {
  const until = performance.now() + mostWaitMs
  const open = async () => (await manyJobs(context.pool, siteId)).filter(job => job.siteId === siteId && !job.endedAt)
  for (const job of await open()) await context.jobs.act(job.id, 'cancel')
  while ((await open()).length) {
    if (performance.now() > until)
      throw new AppError('conflict', 'Work of the site is still coming to its end. Try again in a moment.')
    await sleep(100)
  }
}
