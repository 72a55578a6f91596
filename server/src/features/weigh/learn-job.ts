import { registrableDomain } from '@dew-trail/core/links/registrable-domain'
import { WordTally } from '@dew-trail/core/results/modifier-words'
import { depthToLearn, type Learnt, type RankedPage } from '@dew-trail/core/results/learn-strength'
import type { Market } from '@dew-trail/contract/sites'
import { setImmediate } from 'node:timers/promises'
import PQueue from 'p-queue'
import type { Context } from '../../context.ts'
import type { JobControl } from '../../platform/jobs/job-control.ts'
import { runInThread } from '../../platform/jobs/run-in-thread.ts'
import { analyzeResults } from '../../domain/results/queries.ts'
import { saveResults } from '../../domain/results/save-results.ts'
import { needMarket, needSite } from '../../domain/sites/need-market.ts'
import { SourceError } from '../../platform/outside/source-error.ts'
import { fetchPageFacts, siteFactsOnce } from '../../domain/chances/fetch-facts.ts'
import { rescore, rescoreWhereFactsAreNew } from './rescore.ts'
import { withMovedFigures } from '../../domain/chances/market-figures.ts'
import { keepLatestPositions } from '../../domain/positions/keep-latest-positions.ts'
import { manyDeepPages, manyForSample, upsertDeepPage, upsertModel } from '../../domain/chances/learn-queries.ts'
import { takeScale } from '../../domain/chances/level-scales.ts'
import { modelFor } from '../../domain/chances/model-for.ts'
import { readFacts } from '../../domain/chances/read-facts.ts'
import { factsOf } from '../../domain/chances/weigh-page.ts'

const atOnce = 6

/**
 * Fetches result pages far below the first for a sample of keywords, learns from them what makes the engine put one page above another,
 * and judges all weighed keywords anew by it, on the scale of the market's sites, which is taken with the first of these pages. What was fetched is kept, so that a job that was stopped goes on where it was.
 */
export async function learnJob(context: Context, control: JobControl): Promise<object> {
  const { siteId } = control
  const { payload } = control.job
  const { pool } = context
  const site = await needSite(pool, siteId)
  const market = await needMarket(pool, siteId, Number(payload.marketId))
  const sample = await manyForSample(pool, siteId, market.id, context.config.LEARN_PAGES)
  const waiting = sample.filter(keyword => !keyword.fetched)
  const steps = sample.length + 2
  let done = sample.length - waiting.length
  await control.step(done, steps)
  const siteFacts = siteFactsOnce(context, control.signal)
  const queue = new PQueue({ concurrency: atOnce })
  let halted: unknown
  for (const keyword of waiting)
    void queue.add(async () => {
      if (halted) return
      try {
        await fetchDeep(keyword)
        await control.step(++done, steps)
      } catch (error) {
        halted ??= error
        queue.clear()
      }
    })
  await queue.onIdle()
  await keepLatestPositions(
    context,
    site,
    market,
    waiting.map(keyword => keyword.id),
  )
  if (halted) throw halted
  await analyzeResults(pool)

  const { ranked: known, words } = await deepFacts(context, siteId, market)
  const learnt = await learnInThread(known, control.signal)
  const model = learnt && { ...learnt.model, words }
  const result = await withMovedFigures(pool, siteId, market.id, async () => {
    await upsertModel(pool, siteId, {
      engine: market.engine,
      device: market.device,
      pages: known.length,
      model,
      report: learnt?.report ?? null,
    })
    await control.step(steps - 1, steps)
    const scaled = await takeScale(pool, siteId, market.id, context.config.STANDING_REFERENCE_SITES, false)
    const judge = model ?? (scaled ? await modelFor(pool, siteId, market) : null)
    const rescored = judge ? await rescore(context, site, market, judge, control.signal) : 0
    if (!judge) await rescoreWhereFactsAreNew(context, site, market, control.job.createdAt, control.signal)
    return { rescored }
  })
  await control.step(steps, steps)
  context.events.publish(siteId, { type: 'keywords' })
  return {
    pages: known.length,
    learnt: learnt !== null,
    ...result,
    pairAccuracy: learnt?.report.pairAccuracy ?? null,
    calibrationError: learnt?.report.calibrationError ?? null,
  }

  async function fetchDeep(keyword: { id: number; phrase: string }): Promise<void> {
    try {
      const reply = await context.sources.search(market, keyword.phrase, depthToLearn, control.signal)
      const results = reply.organic.map(({ url, title, snippet }) => ({
        url,
        title,
        snippet: snippet.replace(/<\/?b>/g, ''),
      }))
      const failures = await Promise.all([
        siteFacts([...new Set(results.map(result => registrableDomain(result.url)))]),
        fetchPageFacts(context, [...new Set(results.map(result => result.url))], control.signal),
      ])
      const page = { keywordId: keyword.id, day: reply.date, depth: depthToLearn, results: reply.organic }
      await saveResults(pool, { siteId, marketId: market.id, source: 'engines' }, [page])
      await upsertDeepPage(pool, { siteId, marketId: market.id, keywordId: keyword.id }, reply.date, results)
      for (const message of new Set(failures.flat().map(failure => failure.message))) control.warn(message)
    } catch (error) {
      if (!(error instanceof SourceError) || error.kind === 'quotaUsed') throw error
      control.warn(error.message)
    }
  }
}

/** Learning takes seconds of computing, in which the server is to answer. */
const learnInThread = (pages: RankedPage[], signal: AbortSignal): Promise<Learnt | null> =>
  runInThread(new URL('./learn-thread.ts', import.meta.url), pages, signal)

/** All deep result pages of the engine and device with what is known of their results, and the words of these. */
async function deepFacts(context: Context, siteId: number, market: Market) {
  const pages = await manyDeepPages(context.pool, siteId, market.engine, market.device)
  const facts = await readFacts(
    context.pool,
    pages.flatMap(page => page.results.map(result => result.url)),
  )
  const known = {
    ...facts,
    referenceSites: context.config.STANDING_REFERENCE_SITES,
  }
  const tally = new WordTally()
  for (const { results, language } of pages) {
    // All of them take seconds, in which the server is to answer.
    await setImmediate()
    tally.add(results, language)
  }
  const words = tally.counts()
  const ranked: Array<{ key: string; results: ReturnType<typeof factsOf> }> = []
  for (const page of pages) {
    await setImmediate()
    const about = { ...known, on: page.fetchedOn, language: page.language }
    const results = factsOf(page.phrase, page.results, about, { words })
    ranked.push({ key: page.phrase, results })
  }
  return { ranked, words }
}
