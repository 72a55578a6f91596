import type { Market } from '@dew-trail/contract/sites'
import { AppError } from '@dew-trail/contract/errors'
import type { Context } from '../../context.ts'
import { insertGathering, manyGatherings } from '../../domain/keywords/queries.ts'
import { saveIdeas } from '../../domain/keywords/save-ideas.ts'
import { askForNew } from '../../domain/positions/figures-job.ts'
import { inTransaction } from '../../platform/db/pool.ts'
import { manyKnownPhrases, manyKeywordIds } from './known-queries.ts'

/** Under which seed keywords of the feed stand in Gather. */
const seed = 'rankings feed'

/** Makes known keywords keywords of the site, in the order given, and asks for their figures. */
export async function takeOver(
  context: Context,
  siteId: number,
  market: Market,
  known: readonly number[],
): Promise<number[]> {
  const { pool } = context
  const phrases = await manyKnownPhrases(pool, siteId, known)
  if (phrases.length !== known.length) throw new AppError('notFound', 'Some of these keywords are no longer known')
  const gathering =
    (await manyGatherings(pool, siteId)).find(each => each.seed === seed && each.marketId === market.id)?.id ??
    (await insertGathering(pool, { siteId, marketId: market.id, parentId: null, seed, ways: ['rival'], mostIdeas: 0 }))
  const to = { siteId, gatheringId: gathering, language: market.language, place: market.place, way: 'rival' }
  await saveIdeas(
    pool,
    to,
    phrases.map(phrase => ({ phrase })),
  )
  const ids = await inTransaction(pool, db => manyKeywordIds(db, siteId, market.language, phrases))
  await askForNew(context, siteId, market, ids)
  context.events.publish(siteId, { type: 'keywords' })
  context.events.publish(siteId, { type: 'gatherings' })
  return ids
}
