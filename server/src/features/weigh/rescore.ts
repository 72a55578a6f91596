import type { Market } from '@dew-trail/contract/sites'
import type { StrengthModel } from '@dew-trail/core/results/strength'
import { setImmediate } from 'node:timers/promises'
import type { Context } from '../../context.ts'
import { inTransaction } from '../../platform/db/pool.ts'
import { lockSite, manySites, type SiteRow, touchKeywords } from '../../domain/sites/queries.ts'
import {
  type Score,
  manyScoredOtherwise,
  manyStoredPages,
  manyWithNewFacts,
  type StoredPage,
  updateScores,
} from '../../domain/chances/score-queries.ts'
import { modelFor } from '../../domain/chances/model-for.ts'
import { scalesOf } from '../../domain/chances/level-scales.ts'
import { readFacts } from '../../domain/chances/read-facts.ts'
import { weighingOf, weighPage } from '../../domain/chances/weigh-page.ts'

const judgedAtATime = 200

/**
 * Judges the latest result pages of all weighed keywords of an engine and device by a model and by what is known now, and keeps what
 * came out otherwise than before. They stay as old as they were. `keywordIds`: these alone. Gives how many were judged.
 */
export async function rescore(
  context: Context,
  site: SiteRow,
  market: Pick<Market, 'engine' | 'device'>,
  model: StrengthModel,
  signal?: AbortSignal,
  keywordIds: readonly number[] | null = null,
): Promise<number> {
  const { pool, config } = context
  const markets = site.markets.filter(each => each.engine === market.engine && each.device === market.device)
  const languageOf = new Map(markets.map(each => [each.id, each.language]))
  const scales = await scalesOf(pool, site.id, [...languageOf.keys()])
  let rescored = 0
  let after = { keywordId: 0, marketId: 0 }
  for (;;) {
    signal?.throwIfAborted()
    const pages = await manyStoredPages(pool, site.id, [...languageOf.keys()], after, judgedAtATime, keywordIds)
    if (!pages.length) return rescored
    after = pages.at(-1)!
    const urls = pages.flatMap(page => page.organic.map(result => result.url))
    const facts = await readFacts(pool, urls, [site.domain])
    const judge = (page: StoredPage) =>
      weighPage(page.phrase, page.organic, {
        ...facts,
        ownDomain: site.domain,
        referenceSites: config.STANDING_REFERENCE_SITES,
        on: page.fetchedOn,
        language: languageOf.get(page.marketId)!,
        firstPage: page.features.firstPage,
        model,
        scale: scales.get(page.marketId)!,
      })
    const scores: Score[] = []
    for (const page of pages) {
      // All of them take seconds, in which the server is to answer.
      await setImmediate()
      const { keywordId, marketId } = page
      scores.push({ keywordId, marketId, ...weighingOf(judge(page), page, market.device) })
    }
    await saveScores(context, site.id, scores)
    rescored += pages.length
  }
}

/**
 * The same for those alone of which a job fetched facts since it began: what it learnt of a site or page counts for every keyword that shows
 * it, so that a row and its page, which is judged when it is opened, say the same.
 */
export async function rescoreWhereFactsAreNew(
  context: Context,
  site: SiteRow,
  market: Pick<Market, 'engine' | 'device'>,
  since: Date,
  signal: AbortSignal,
): Promise<void> {
  const markets = site.markets.filter(each => each.engine === market.engine && each.device === market.device)
  const ids = await manyWithNewFacts(
    context.pool,
    site.id,
    markets.map(each => each.id),
    since,
  )
  if (!ids.length) return
  await rescore(context, site, market, await modelFor(context.pool, site.id, market), signal, ids)
}

/** Keeps scores that differ from those that are kept; rows of the tables follow. */
async function saveScores(context: Context, siteId: number, scores: Score[]): Promise<void> {
  // Looked at first: the site's lock may be held by an import, and mostly nothing differs.
  if (!(await manyScoredOtherwise(context.pool, siteId, scores)).length) return
  await inTransaction(context.pool, async db => {
    await lockSite(db, siteId)
    await touchKeywords(db, siteId, await updateScores(db, siteId, scores))
  })
  context.events.publish(siteId, { type: 'keywords' })
}

/** Judges everything anew, site by site: what is known of links and sites changed since, and the program may judge otherwise than it did. */
export async function rescoreAll(context: Context): Promise<void> {
  for (const site of await manySites(context.pool)) {
    const ways = new Map(site.markets.map(market => [`${market.engine} ${market.device}`, market]))
    for (const market of ways.values())
      await rescore(context, site, market, await modelFor(context.pool, site.id, market))
  }
}
