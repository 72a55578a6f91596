import { defaultModel, type StrengthModel } from '@dew-trail/core/results/strength'
import type { Db } from '../../platform/db/pool.ts'
import { maybeModel, maybeModelDate } from './learn-queries.ts'

/** Models that were read, by site, engine, device and date of learning: one has a megabyte, and is asked for with every result page. */
const read = new Map<string, StrengthModel>()
const mostRead = 8

/** The strengths to judge result pages of an engine and device by: the learnt ones, until then the documented default. */
export async function modelFor(
  db: Db,
  siteId: number,
  market: { engine: string; device: string },
): Promise<StrengthModel> {
  const date = await maybeModelDate(db, siteId, market)
  if (date === null) return defaultModel
  const key = JSON.stringify([siteId, market.engine, market.device, date])
  let model = read.get(key)
  if (!model) {
    // One that is learnt meanwhile is kept by the earlier date until the next is asked for, and is as good.
    model = (await maybeModel(db, siteId, market)) ?? defaultModel
    if (read.size >= mostRead) read.delete(read.keys().next().value!)
    read.set(key, model)
  }
  return model
}
