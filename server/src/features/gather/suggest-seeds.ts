import type { Market } from '@dew-trail/contract/sites'
import { averageSearches } from '@dew-trail/core/demand/average-searches'
import { normalForm } from '@dew-trail/core/words/normal-form'
import { LRUCache } from 'lru-cache'
import type { Context } from '../../context.ts'
import { manyFigures } from '../../domain/keywords/phrase-figures.ts'
import { needSite } from '../../domain/sites/need-market.ts'
import { SourceError } from '../../platform/outside/source-error.ts'

type Suggestion = { phrase: string; searches: number | null }

const most = 8
const keptMs = 600_000
/** What sources have said for a while: who types goes back and forth over the same beginnings. */
const answers = new LRUCache<string, Suggestion[]>({ max: 2_000, ttl: keptMs })

/**
 * Phrases that searchers type after these words, with their searches a month where they are known or the ads data knows them; a source that fails
 * is named, and what the others said is given.
 */
export async function readSuggestions(
  context: Context,
  siteId: number,
  market: Market,
  typed: string,
  signal?: AbortSignal,
): Promise<{ phrases: Suggestion[]; problem: string | null }> {
  const { averageMonths } = await needSite(context.pool, siteId)
  const key = JSON.stringify([siteId, averageMonths, market.engine, market.place, market.language, typed])
  const known = answers.get(key)
  if (known) return { phrases: known, problem: null }
  try {
    const completions = await context.sources.complete(market, typed, signal)
    const phrases = [...new Set(completions.map(normalForm).filter(Boolean))].slice(0, most)
    const { found, problem } = await searchesOf(context, siteId, market, phrases, signal)
    const list = phrases.map(phrase => ({ phrase, searches: found.get(phrase) ?? null }))
    if (problem === null) answers.set(key, list)
    return { phrases: list, problem }
  } catch (error) {
    if (!(error instanceof SourceError)) throw error
    return { phrases: [], problem: error.message }
  }
}

/** Searches of phrases: those that the site knows, and of the others what the ads data says. */
async function searchesOf(
  context: Context,
  siteId: number,
  market: Market,
  phrases: string[],
  signal?: AbortSignal,
): Promise<{ found: Map<string, number | null>; problem: string | null }> {
  const known = await manyFigures(context.pool, siteId, market.place, market.language, phrases)
  const found = new Map([...known].map(([phrase, { searches }]) => [phrase, searches]))
  const unknown = phrases.filter(phrase => (found.get(phrase) ?? null) === null)
  if (!unknown.length) return { found, problem: null }
  try {
    const { averageMonths: period } = await needSite(context.pool, siteId)
    for (const figure of await context.sources.figures(market, unknown, signal))
      found.set(
        figure.text,
        averageSearches(
          figure.monthly.map(month => month.searches),
          period,
        ) ?? figure.average,
      )
    return { found, problem: null }
  } catch (error) {
    if (!(error instanceof SourceError)) throw error
    return { found, problem: error.message }
  }
}
