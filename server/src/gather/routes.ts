import {
  askFigures,
  findNames,
  findPhrases,
  keepKeywords,
  keywordRowsQuery,
  listGatherings,
  pruneGathering,
  startGathering,
} from '@dew-trail/contract/gather'
import { AppError } from '@dew-trail/contract/errors'
import { normalForm } from '@dew-trail/core/words/normal-form'
import type { Router } from 'express'
import { Readable } from 'node:stream'
import { pipeline } from 'node:stream/promises'
import type { Context } from '../context.ts'
import { inTransaction } from '../db/pool.ts'
import { checkInput, mount } from '../http/mount.ts'
import { needMarket, needSite } from '../sites/need-market.ts'
import { lockSite } from '../sites/queries.ts'
import { startFigures } from './figures-job.ts'
import { findDomainNames } from './find-domain-names.ts'
import { manyGatherings, manyPhrasesWith, setKept, setPruned, touchFound } from './queries.ts'
import { beginGathering } from './start-gathering.ts'
import { dropStaleBlocks } from './row-blocks.ts'
import { streamKeywordRows } from './stream-rows.ts'

export function mountGather(router: Router, context: Context): void {
  mount(router, startGathering, input => beginGathering(context, input))
  mount(router, listGatherings, async ({ siteId }) =>
    manyGatherings(context.pool, (await needSite(context.pool, siteId)).id),
  )
  mount(router, pruneGathering, async ({ siteId, gatheringId, pruned }) => {
    const changed = await inTransaction(context.pool, async db => {
      await lockSite(db, siteId)
      const ids = await setPruned(db, siteId, gatheringId, pruned)
      if (!ids.length) throw new AppError('notFound', `There is no gathering ${gatheringId}`)
      await touchFound(db, siteId, ids)
      return ids.length
    })
    context.events.publish(siteId, { type: 'keywords' })
    context.events.publish(siteId, { type: 'gatherings' })
    return { gatherings: changed }
  })
  mount(router, findNames, input => findDomainNames(context, input))
  mount(router, keepKeywords, async ({ siteId, keywordIds, kept }) => {
    const changed = await inTransaction(context.pool, async db => {
      await lockSite(db, siteId)
      return setKept(db, siteId, keywordIds, kept)
    })
    context.events.publish(siteId, { type: 'keywords' })
    return { changed }
  })
  mount(router, askFigures, async ({ siteId, marketId, keywordIds }) => {
    await needMarket(context.pool, siteId, marketId)
    return { jobId: (await startFigures(context, siteId, marketId, keywordIds)).id }
  })
  mount(router, findPhrases, async ({ siteId, marketId, text }) => {
    const market = await needMarket(context.pool, siteId, marketId)
    return manyPhrasesWith(context.pool, siteId, market.place, normalForm(text), 8)
  })
  router.get('/api/sites/:siteId/keywords', async (request, response) => {
    const { siteId, marketId, since } = checkInput(keywordRowsQuery, { ...request.query, ...request.params })
    await needMarket(context.pool, siteId, marketId)
    response.writeHead(200, { 'content-type': 'application/x-ndjson; charset=utf-8' })
    await pipeline(Readable.from(streamKeywordRows(context.pool, siteId, marketId, since)), response).catch(error => {
      // The browser left, or the database did in the middle: the line with the revision is missing, so the browser asks again.
      context.log.debug({ err: error }, 'keyword rows ended early')
    })
    // Looked after when somebody has opened the whole table, and not while they wait.
    if (!since)
      dropStaleBlocks(context.pool, siteId, marketId).catch(error =>
        context.log.debug({ err: error }, 'stale rows were not dropped'),
      )
  })
}
