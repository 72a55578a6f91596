import { defaultModel, type StrengthModel } from '@dew-trail/core/results/strength'
import type { Db } from '../db/pool.ts'
import { manyModels } from './learn-queries.ts'

/** The strengths to judge result pages of an engine and device by: the learnt ones, until then the documented default. */
export async function modelFor(
  db: Db,
  siteId: number,
  market: { engine: string; device: string },
): Promise<StrengthModel> {
  const models = await manyModels(db, siteId)
  const found = models.find(each => each.engine === market.engine && each.device === market.device)
  return found?.model ?? defaultModel
}
