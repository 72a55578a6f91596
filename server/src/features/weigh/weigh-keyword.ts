import { pageAddress } from '@dew-trail/core/links/page-address'
import { registrableDomain } from '@dew-trail/core/links/registrable-domain'
import { weighedDepth } from '@dew-trail/core/results/learn-strength'
import type { StrengthModel } from '@dew-trail/core/results/strength'
import type { Market } from '@dew-trail/contract/sites'
import type { Context } from '../../context.ts'
import { inTransaction } from '../../platform/db/pool.ts'
import { saveResults } from '../../domain/results/save-results.ts'
import { lockSite, touchKeywords } from '../../domain/sites/queries.ts'
import { SourceError } from '../../platform/outside/source-error.ts'
import { type FactFetcher, fetchPageFacts } from '../../domain/chances/fetch-facts.ts'
import { type Organic, type PageFeatures, upsertResultPage, upsertWeighing } from '../../domain/chances/queries.ts'
import { scaleOf } from '../../domain/chances/level-scales.ts'
import { readFacts } from '../../domain/chances/read-facts.ts'
import { weighingOf, weighPage } from '../../domain/chances/weigh-page.ts'

/** Fetches and judges one keyword's result page and saves both. A failing engine saves "failed" with its reason; failing facts stay unknown and are given back. */
export async function weighKeyword(
  context: Context,
  site: { id: number; domain: string },
  market: Market,
  keyword: { id: number; phrase: string },
  model: StrengthModel,
  siteFacts: FactFetcher,
  signal: AbortSignal,
): Promise<SourceError[]> {
  const key = { siteId: site.id, keywordId: keyword.id, marketId: market.id }
  let reply: Awaited<ReturnType<typeof context.sources.search>>
  try {
    reply = await context.sources.search(market, keyword.phrase, weighedDepth, signal)
  } catch (error) {
    if (!(error instanceof SourceError)) throw error
    await saveWeighing({
      state: 'failed',
      difficulty: null,
      chance3: null,
      chance10: null,
      chance20: null,
      likelyFrom: null,
      likelyTo: null,
      pagePosition: null,
      pageChance: null,
      pageHigher: null,
      lacking: [],
      reported: null,
      levels: [],
      ownLevel: null,
      organicShare: null,
      paidShare: null,
      reason: error.message,
      fetchedOn: null,
    })
    return [error]
  }
  const organic: Organic[] = reply.organic.map(result => ({
    position: result.position,
    url: result.url,
    title: result.title,
    snippet: result.snippet.replace(/<\/?b>/g, ''),
    marked: [...new Set([...result.snippet.matchAll(/<b>(.*?)<\/b>/g)].map(match => match[1]!.toLowerCase()))],
  }))
  const urls = [...new Set(organic.map(result => result.url))]
  const domains = [...new Set([site.domain, ...organic.map(result => registrableDomain(result.url))])]
  const failures = (await Promise.all([siteFacts(domains), fetchPageFacts(context, urls, signal)])).flat()
  const features: PageFeatures = {
    firstPage: reply.first_page,
    answer: reply.answer !== null,
    questions: reply.questions,
    images: reply.images.length > 0,
    shopping: reply.shopping.length,
    map: reply.map.length,
    ads: reply.ads.length,
    results: reply.total,
    holders: {
      answer: sitesOf(reply.answer === null ? [] : [reply.answer]),
      images: sitesOf(reply.images),
      shopping: sitesOf(reply.shopping),
    },
  }
  const weighed = weighPage(keyword.phrase, organic, {
    ...(await readFacts(context.pool, urls, domains)),
    ownDomain: site.domain,
    referenceSites: context.config.STANDING_REFERENCE_SITES,
    on: reply.date,
    language: market.language,
    firstPage: reply.first_page,
    model,
    scale: await scaleOf(context.pool, site.id, market.id),
  })
  const page = { keywordId: keyword.id, day: reply.date, depth: weighedDepth, results: reply.organic }
  await saveResults(context.pool, { siteId: site.id, marketId: market.id, source: 'engines' }, [page])
  await upsertResultPage(context.pool, key, reply, features, organic)
  await saveWeighing(weighingOf(weighed, { organic, features, fetchedOn: reply.date }, market.device))
  return failures

  async function saveWeighing(row: Parameters<typeof upsertWeighing>[2]): Promise<void> {
    await inTransaction(context.pool, async db => {
      await lockSite(db, site.id)
      await upsertWeighing(db, key, row)
      await touchKeywords(db, site.id, [keyword.id])
    })
    context.events.publish(site.id, { type: 'keywords' })
  }
}

/** Sites of what a feature shows, each once; what has no address that can be read is left out. */
function sitesOf(shown: readonly unknown[]): string[] {
  const sites = shown.flatMap(each => {
    const url = (each as { url?: unknown } | null)?.url
    const address = typeof url === 'string' ? pageAddress(url) : null
    return address === null ? [] : [registrableDomain(address)]
  })
  return [...new Set(sites)]
}
