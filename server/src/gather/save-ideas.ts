import { averageSearches } from '@dew-trail/core/demand/average-searches'
import { familyKey } from '@dew-trail/core/words/family-key'
import { guessIntent } from '@dew-trail/core/words/intent'
import { keywordKind } from '@dew-trail/core/words/keyword-kind'
import { normalForm } from '@dew-trail/core/words/normal-form'
import { splitWords } from '@dew-trail/core/words/split-words'
import type pg from 'pg'
import { inTransaction } from '../db/pool.ts'
import { lockSite, touchKeywords } from '../sites/queries.ts'
import type { AdsFigure } from '../sources/sources.ts'
import { countFound, insertFindings, type NewDemand, type NewKeyword, upsertDemand, upsertKeywords } from './queries.ts'

export type Idea = { phrase: string; figure?: AdsFigure }

export function describeKeyword(phrase: string, language: string, asCompletion: boolean): NewKeyword {
  const guess = guessIntent(phrase)
  return {
    phrase,
    family: familyKey(phrase, language),
    kind: keywordKind(phrase, language, asCompletion),
    intent: guess.intent,
    intentShare: guess.probability,
    words: splitWords(phrase).length,
  }
}

/** Figures of an ads answer in our units: searches a month, money in whole currency units, competition 0–1. No figure at all is "nothing", not zero. */
export function toDemand(keywordId: number, figure: AdsFigure): NewDemand {
  const money = (micros: number | null): number | null => (micros === null ? null : micros / 1e6)
  const months = figure.monthly.map(month => month.searches)
  const nothing = figure.average === null && !months.length
  return {
    keywordId,
    state: nothing ? 'nothing' : 'known',
    monthsFrom: figure.monthly[0] ? `${figure.monthly[0].month}-01` : null,
    months: months.length ? months : null,
    average: averageSearches(months) ?? figure.average,
    cpc: money(figure.cpc_micros),
    bidLow: money(figure.low_bid_micros),
    bidHigh: money(figure.high_bid_micros),
    competition: figure.competition_index === null ? null : figure.competition_index / 100,
  }
}

/** Saves ideas of one request: keywords, how they were found, and figures where they came along. Gives the gathering's new count. */
export async function saveIdeas(
  pool: pg.Pool,
  to: { siteId: number; gatheringId: number; language: string; place: string; way: string },
  ideas: Idea[],
): Promise<number> {
  const byPhrase = new Map<string, Idea>()
  for (const idea of ideas) {
    const phrase = normalForm(idea.phrase)
    if (phrase && phrase.length <= 200 && !byPhrase.has(phrase)) byPhrase.set(phrase, { ...idea, phrase })
  }
  return inTransaction(pool, async db => {
    await lockSite(db, to.siteId)
    const ids = await upsertKeywords(
      db,
      to.siteId,
      to.language,
      [...byPhrase.keys()].map(phrase => describeKeyword(phrase, to.language, to.way === 'completions')),
    )
    await insertFindings(db, to.siteId, to.gatheringId, to.way, [...ids.values()])
    const demand = [...byPhrase.values()].flatMap(idea =>
      idea.figure && ids.has(idea.phrase) ? [toDemand(ids.get(idea.phrase)!, idea.figure)] : [],
    )
    await upsertDemand(db, to.siteId, to.place, 'ads', demand)
    await touchKeywords(db, to.siteId, [...ids.values()])
    return countFound(db, to.siteId, to.gatheringId)
  })
}
