import { averageSearches } from '@dew-trail/core/demand/average-searches'
import { demandPattern } from '@dew-trail/core/demand/demand-pattern'
import { findLadder, searchRange } from '@dew-trail/core/demand/search-range'
import type { Db } from '../../platform/db/pool.ts'
import type { AdsFigure } from '../../sources/source-replies.ts'
import { manyMonthValues, type NewDemand } from './queries.ts'

/** Figures of an ads answer in our units: searches a month, money in whole currency units, competition 0–1. No figure at all is "nothing", not zero. */
export function toDemand(keywordId: number, figure: AdsFigure, ladder: readonly number[]): NewDemand {
  const money = (micros: number | null): number | null => (micros === null ? null : micros / 1e6)
  const months = figure.monthly.map(month => month.searches)
  const nothing = figure.average === null && !months.length
  const first = figure.monthly[0]?.month
  const pattern = first ? demandPattern(months, Number(first.slice(5, 7))) : null
  const range = searchRange(months, ladder)
  return {
    keywordId,
    state: nothing ? 'nothing' : 'known',
    monthsFrom: first ? `${first}-01` : null,
    months: months.length ? months : null,
    average: averageSearches(months) ?? figure.average,
    cpc: money(figure.cpc_micros),
    bidLow: money(figure.low_bid_micros),
    bidHigh: money(figure.high_bid_micros),
    competition: figure.competition_index === null ? null : figure.competition_index / 100,
    mobileShare: figure.mobile_share,
    worldwide: figure.worldwide,
    trend: pattern?.trend ?? null,
    yearly: pattern?.yearly ?? null,
    season: pattern?.season ?? null,
    peaks: pattern?.peaks ?? null,
    rounded: pattern?.rounded ?? null,
    low: range?.low ?? null,
    high: range?.high ?? null,
    match: toMatch(figure.match),
  }
}

/** Totals without the widest one tell nothing. */
const toMatch = (match: AdsFigure['match']): NewDemand['match'] =>
  match && match.broad !== null ? { exact: match.exact, inOrder: match.phrase, anyOrder: match.broad } : null

/** The steps the ads data rounds to: from an answer itself where it is long enough, else from figures saved before. */
export async function findLadderFor(db: Db, siteId: number, figures: readonly AdsFigure[]): Promise<number[]> {
  const own = findLadder(figures.flatMap(figure => figure.monthly.map(month => month.searches)))
  return own.length || !figures.length ? own : findLadder(await manyMonthValues(db, siteId))
}
