import {
  askCounts,
  askFigures,
  askNames,
  findPhrases,
  keepKeywords,
  keepPhrases,
  keywordRowsQuery,
  listGatherings,
  listNames,
  pruneGathering,
  startGathering,
  suggestSeeds,
} from '@dew-trail/contract/gather'
import { AppError } from '@dew-trail/contract/errors'
import { normalForm } from '@dew-trail/core/words/normal-form'
import type { Router } from 'express'
import { Readable } from 'node:stream'
import { pipeline } from 'node:stream/promises'
import type { Context } from '../../context.ts'
import { countOf, doAct } from '../../domain/acts/do-act.ts'
import { checkInput, mount } from '../../platform/http/mount.ts'
import { needMarket, needSite } from '../../domain/sites/need-market.ts'
import { askForNew, startFigures } from '../../domain/positions/figures-job.ts'
import { addPhrases } from '../../domain/keywords/add-phrases.ts'
import { readNames } from './domain-names.ts'
import {
  manyGatherings,
  manyPhrasesWith,
  oneGathering,
  setKept,
  setPruned,
  touchFound,
} from '../../domain/keywords/queries.ts'
import { readSuggestions } from './suggest-seeds.ts'
import { beginGathering } from './start-gathering.ts'
import { dropStaleBlocks } from '../../domain/keyword-rows/row-blocks.ts'
import { streamKeywordRows } from '../../domain/keyword-rows/stream-rows.ts'

export function mountGather(router: Router, context: Context): void {
  mount(router, startGathering, input => beginGathering(context, input))
  mount(router, suggestSeeds, async ({ siteId, marketId, typed }) =>
    readSuggestions(context, siteId, await needMarket(context.pool, siteId, marketId), typed),
  )
  mount(router, listGatherings, async ({ siteId }) =>
    manyGatherings(context.pool, (await needSite(context.pool, siteId)).id),
  )
  mount(router, pruneGathering, ({ siteId, gatheringId, pruned }) =>
    doAct(context, siteId, async db => {
      const { seed } = await oneGathering(db, siteId, gatheringId)
      const gatheringIds = await setPruned(db, siteId, gatheringId, pruned)
      await touchFound(db, siteId, gatheringIds)
      const title = `"${seed}" ${pruned ? 'pruned' : 'put back on the path'}`
      return {
        answer: { gatherings: gatheringIds.length },
        act: gatheringIds.length ? { kind: 'prune', title, data: { gatheringIds, pruned } } : null,
        changed: ['keywords', 'gatherings'],
      }
    }),
  )
  mount(router, askCounts, async ({ siteId, marketId, keywordIds }) => {
    await needMarket(context.pool, siteId, marketId)
    const title = `Asking how many pages have ${countOf(keywordIds.length, 'keyword')}`
    return { jobId: (await context.jobs.add(siteId, 'counts', title, { marketId, keywordIds })).id }
  })
  mount(router, askNames, async ({ siteId, keywordIds, endings }) => {
    const title = `Asking the registry about ${countOf(keywordIds.length, 'keyword')}`
    return { jobId: (await context.jobs.add(siteId, 'names', title, { keywordIds, endings })).id }
  })
  mount(router, listNames, input => readNames(context.pool, input))
  mount(router, keepKeywords, ({ siteId, keywordIds, kept }) =>
    doAct(context, siteId, async db => {
      const changed = await setKept(db, siteId, keywordIds, kept)
      const title = `${countOf(changed.length, 'keyword')} ${kept ? 'kept' : 'let go'}`
      return {
        answer: { changed },
        act: changed.length ? { kind: 'keep', title, data: { keywordIds: changed, kept } } : null,
        changed: ['keywords'],
      }
    }),
  )
  mount(router, keepPhrases, async ({ siteId, marketId, phrases }) => {
    const market = await needMarket(context.pool, siteId, marketId)
    const wanted = [...new Set(phrases.map(normalForm).filter(phrase => phrase && phrase.length <= 200))]
    if (!wanted.length) throw new AppError('badInput', 'None of these is a phrase that people could search for')
    const done = await doAct(context, siteId, async db => {
      const ids = await addPhrases(db, siteId, market.language, wanted)
      const changed = await setKept(db, siteId, [...ids.values()], true)
      const title = `${countOf(changed.length, 'keyword')} kept`
      return {
        answer: { changed },
        act: changed.length ? { kind: 'keep', title, data: { keywordIds: changed, kept: true } } : null,
        changed: ['keywords'],
      }
    })
    await askForNew(context, siteId, market, done.changed)
    return done
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
