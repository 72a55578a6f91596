import { monthNames } from '../days/day-words.ts'
import type { Explanation } from '../tables/explanation.ts'
import { hiddenFrom } from './hidden-demand.ts'
import { seasonal, type Trend } from './demand-pattern.ts'

export type DemandFacts = {
  /** The last twelve months, oldest first. */
  months: ReadonlyArray<number | null> | null
  /** Those that the query log shows at the least where `hidden`, else those of the ads data. */
  searches: number | null
  /** The ads data was asked and knows nothing or zero, while the query log shows searches. */
  hidden: boolean
  low: number | null
  high: number | null
  rounded: boolean | null
  state: string
  source: string
  date: string | null
  trend: Trend | null
  yearly: number | null
  season: number | null
  peaks: readonly number[]
  logSearches: number | null
  logImpressions: number | null
  logPosition: number | null
}

const whole = (value: number): string => Math.round(value).toLocaleString('en')
const percent = (share: number): string => `${share > 0 ? '+' : ''}${Math.round(share * 100)}%`
const whyUnknown: Record<string, string> = {
  notAsked: 'The source has not been asked about this keyword in this place; F asks.',
  nothing: 'The source has nothing about this keyword. That is not zero. F asks again.',
  failed: 'The source failed when it was asked; F asks again.',
}
const sourceName = (facts: DemandFacts): string => (facts.source === 'import' ? 'your file' : 'ads data')
const bySource = (searches: number | null, hidden: boolean): string | null =>
  searches === null ? null : `${hidden ? 'at least ' : ''}${whole(searches)}`
const searchesInput = (facts: { searches: number | null; hidden: boolean }): Explanation['inputs'][number] => ({
  name: facts.hidden ? 'searches a month by your query log' : 'searches a month',
  value: facts.searches === null ? null : whole(facts.searches),
})
const withNote = (explanation: Explanation, note: string | undefined): Explanation =>
  note ? { ...explanation, note } : explanation

/** Searches a month: the mean of the last twelve known months; of hidden demand those that the query log shows at the least. */
export function explainSearches(facts: DemandFacts): Explanation {
  if (facts.hidden) return { ...explainLog(facts), figure: 'Searches a month' }
  const known = facts.months?.filter((month): month is number => month !== null) ?? []
  return withNote(
    {
      figure: 'Searches a month',
      value: facts.searches === null ? null : whole(facts.searches),
      formula:
        facts.source === 'import'
          ? 'as the file says'
          : 'mean of the last known months: 12, or 3 or 24 where the site is set so',
      inputs: known.length
        ? [
            { name: 'months known', value: known.length },
            { name: 'lowest', value: Math.min(...known) },
            { name: 'highest', value: Math.max(...known) },
          ]
        : [],
      source: sourceName(facts),
      date: facts.date,
    },
    facts.searches === null
      ? whyUnknown[facts.state]
      : facts.rounded
        ? 'The source rounds: four or more months in a row are identical. See the range.'
        : undefined,
  )
}

/** The range behind rounded figures, or the spread of the months. */
export function explainRange(facts: DemandFacts): Explanation {
  return withNote(
    {
      figure: 'Range of searches',
      value: facts.low === null || facts.high === null ? null : `${whole(facts.low)} to ${whole(facts.high)}`,
      formula: facts.rounded
        ? 'each month lies between the middles to the neighbouring steps of the source; their means'
        : 'steps of the source around each month where it rounds, else the 10th to 90th percentile of the months',
      inputs: [
        { name: 'mean', value: facts.searches === null ? null : whole(facts.searches) },
        { name: 'rounded', value: facts.rounded === null ? null : facts.rounded ? 'yes' : 'no' },
      ],
      source: sourceName(facts),
      date: facts.date,
    },
    facts.hidden
      ? 'The query log tells only how many searches there are at the least.'
      : facts.low === null
        ? (whyUnknown[facts.state] ?? 'The months are not known.')
        : undefined,
  )
}

/** Rising, falling or steady. */
export function explainTrend(facts: DemandFacts): Explanation {
  return withNote(
    {
      figure: 'Trend',
      value: facts.trend === null ? null : `${facts.trend}, ${percent(facts.yearly ?? 0)} a year`,
      formula:
        'median of the slopes of log(1 + searches) between equal months of different years (with under 24 months between all); called rising or falling only if chance would show it in under 5 of 100 cases (seasonal Kendall)',
      inputs: [
        { name: 'change a year', value: facts.yearly === null ? null : percent(facts.yearly) },
        { name: 'season strength', value: facts.season },
      ],
      source: sourceName(facts),
      date: facts.date,
    },
    facts.trend === null ? 'Fewer than 12 months are known.' : undefined,
  )
}

/** How much of the ups and downs comes back every year, and when the peak is. */
export function explainSeason(facts: DemandFacts): Explanation {
  const named = facts.peaks.map(month => monthNames[month - 1]!)
  return withNote(
    {
      figure: 'Season',
      value: facts.season === null ? null : named.length ? `peak in ${named.join(', ')}` : 'no clear season',
      formula:
        'strength = 1 − variance of the rest / variance of season and rest, 0 to 1; seasonal only if chance would show such differences between months in under 5 of 100 cases too',
      inputs: [
        { name: 'strength', value: facts.season },
        { name: 'seasonal from', value: seasonal },
      ],
      source: sourceName(facts),
      date: facts.date,
    },
    facts.season === null ? 'Fewer than 24 months are known.' : undefined,
  )
}

/** Searches that the own query log shows at the least. */
export function explainLog(facts: DemandFacts): Explanation {
  const { hidden } = facts
  const byAds = !hidden ? facts.searches : facts.state === 'known' ? 0 : null
  return withNote(
    {
      figure: hidden ? 'Hidden demand' : 'Searches by your query log',
      value: facts.logSearches === null ? null : `at least ${whole(facts.logSearches)} a month`,
      formula: 'impressions in 30 days ÷ share of searchers who see your place',
      inputs: [
        { name: 'impressions in 30 days', value: facts.logImpressions === null ? null : whole(facts.logImpressions) },
        { name: 'mean place', value: facts.logPosition },
        { name: 'searches by ads data', value: byAds === null ? null : whole(byAds) },
      ],
      source: 'own query log',
      date: null,
    },
    facts.logSearches === null
      ? 'Your pages were not shown for this keyword, or the query log has not been loaded.'
      : hidden
        ? `The ads data knows nothing of it or says zero, yet the log shows ${hiddenFrom} searches a month or more.`
        : undefined,
  )
}

/** What a visit was counted as worth, where that is not the CPC. */
function ownWorth({ visits, worth, cpc }: Record<'visits' | 'worth' | 'cpc', number | null>): Explanation['inputs'] {
  if (!visits || worth === null) return []
  const each = worth / visits
  // Rows keep both figures rounded.
  return cpc !== null && Math.abs(each - cpc) <= 0.02 * cpc + 0.01
    ? []
    : [{ name: 'worth of a visit to you', value: each.toFixed(2) }]
}

const curveWords = {
  default: 'default',
  fitted: 'fitted from your query log',
  set: 'by the share at the first place that you set',
}

/** Visits and their worth at the first position, which need no weighing. */
export function explainFirst(facts: {
  searches: number | null
  hidden: boolean
  visits: number | null
  worth: number | null
  cpc: number | null
  /** Whose click curve it is by. */
  curve: 'default' | 'fitted' | 'set'
  organicShare: number | null
  date: string | null
}): Explanation {
  return withNote(
    {
      figure: 'Visits and worth if first',
      value:
        facts.visits === null
          ? null
          : `${bySource(facts.visits, facts.hidden)} visits${facts.worth === null ? '' : `, worth ${whole(facts.worth)}`}`,
      formula:
        'visits = searches × share of clicks at the first position, in proportion to the share of searches that click a result where that is known; worth = visits × CPC, or × what a visit is worth to you where you said so',
      inputs: [
        searchesInput(facts),
        {
          name: 'share of clicks there',
          value:
            !facts.searches || facts.visits === null ? null : `${Math.round((100 * facts.visits) / facts.searches)}%`,
        },
        {
          name: 'searches that click a result',
          value: facts.organicShare === null ? null : `${Math.round(facts.organicShare * 100)}%`,
        },
        { name: 'CPC', value: facts.cpc === null ? null : facts.cpc.toFixed(2) },
        ...ownWorth(facts),
        { name: 'click curve', value: curveWords[facts.curve] },
      ],
      source: facts.hidden ? 'your query log, which shows a part of the searches' : 'ads data and click curve',
      date: facts.date,
    },
    facts.visits === null ? 'Have its searches known: F asks the ads data.' : undefined,
  )
}

/** Expected visits and what they are worth. */
export function explainVisits(facts: {
  searches: number | null
  hidden: boolean
  visits: number | null
  cpc: number | null
  worth: number | null
  /** Where a page of the site stands, whose visits these are; null: they are those of a new page, by its chances. */
  pagePosition: number | null
  chance: number | null
  /** Whose click curve it is by. */
  curve: 'default' | 'fitted' | 'set'
  organicShare: number | null
  date: string | null
}): Explanation {
  const money = (value: number): string => value.toFixed(2)
  return withNote(
    {
      figure: 'Visits and worth a month',
      value:
        facts.visits === null
          ? null
          : `${bySource(facts.visits, facts.hidden)} visits${facts.worth === null ? '' : `, worth ${whole(facts.worth)}`}`,
      formula:
        facts.pagePosition !== null
          ? 'visits of your page = searches × share of clicks at its place, in proportion to the share of searches that click a result; worth = visits × CPC, or × what a visit is worth to you where you said so'
          : 'visits = searches × Σ chance of each band of places × its share of clicks, in proportion to the share of searches that click a result; worth = visits × CPC, or × what a visit is worth to you where you said so',
      inputs: [
        searchesInput(facts),
        facts.pagePosition !== null
          ? { name: 'place of your page', value: facts.pagePosition }
          : {
              name: 'chance of the first page',
              value: facts.chance === null ? null : `${Math.round(facts.chance * 100)}%`,
            },
        {
          name: 'searches that click a result',
          value: facts.organicShare === null ? null : `${Math.round(facts.organicShare * 100)}%`,
        },
        { name: 'CPC', value: facts.cpc === null ? null : money(facts.cpc) },
        ...ownWorth(facts),
        { name: 'click curve', value: curveWords[facts.curve] },
      ],
      source: facts.hidden
        ? 'weighing of the first page; your query log, which shows a part of the searches'
        : 'weighing of the first page',
      date: facts.date,
    },
    facts.visits === null ? 'Weigh the keyword (W) and have its searches known.' : undefined,
  )
}
