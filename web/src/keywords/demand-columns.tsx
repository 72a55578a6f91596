import {
  explainLog,
  explainRange,
  explainSearches,
  explainSeason,
  explainTrend,
} from '@dew-trail/core/demand/explain-demand'
import { MonthBars } from '../pictures/MonthBars.tsx'
import { formatMoney, formatOne, formatShare, formatWhole } from '../ui/format.ts'
import type { SheetColumn } from '../sheet/columns.ts'
import { n, s, demandUnknown, given, codes, number } from './column-parts.tsx'
import { demandFacts } from './demand-facts.ts'

export const searches = number(
  'searches',
  'Searches',
  98,
  'Searches a month: the mean of the last 12 known months from the ads data, in bands',
  row => {
    const value = n(row, 'searches')
    return value === null ? demandUnknown() : formatWhole(value)
  },
  { why: row => explainSearches(demandFacts(row)) },
)
export const months: SheetColumn = {
  key: 'months',
  label: '12 months',
  width: 88,
  kind: 'series',
  explain: 'Searches by month, the last one dark',
  render: row =>
    Array.isArray(row.months) && row.months.some(month => month !== null) ? (
      <MonthBars months={row.months} end={(row.monthsEnd as string | null) ?? null} />
    ) : null,
}
export const cpc = number(
  'cpc',
  'CPC',
  66,
  'Cost per click in ads',
  row => {
    const value = n(row, 'cpc')
    return value === null ? demandUnknown() : formatMoney(value)
  },
  {
    why: row => ({
      ...given(
        'Cost per click',
        each => (n(each, 'cpc') === null ? null : formatMoney(n(each, 'cpc')!)),
        'what advertisers pay for a click on average',
        'cpcFrom',
      )(row),
      inputs: [
        { name: 'low bid', value: n(row, 'bidLow') === null ? null : formatMoney(n(row, 'bidLow')!) },
        { name: 'high bid', value: n(row, 'bidHigh') === null ? null : formatMoney(n(row, 'bidHigh')!) },
      ],
    }),
  },
)
export const competition = number(
  'competition',
  'Ad competition',
  98,
  'Advertiser competition, 0 to 1, from the ads data',
  row => {
    const value = n(row, 'competition')
    return value === null ? demandUnknown() : value.toFixed(2)
  },
  {
    why: given(
      'Advertiser competition',
      row => n(row, 'competition')?.toFixed(2) ?? null,
      'how many advertisers bid against what there is to show, 0 to 1',
      'competitionFrom',
    ),
  },
)
export const worldwide = number(
  'worldwide',
  'Worldwide',
  100,
  'Searches a month in all countries together, from the ads data',
  row => {
    const value = n(row, 'worldwide')
    return value === null ? demandUnknown() : formatWhole(value)
  },
  {
    why: given(
      'Searches worldwide',
      row => {
        const value = n(row, 'worldwide')
        return value === null ? null : formatWhole(value)
      },
      'mean monthly searches of the last 12 months in all countries together, rounded as the source rounds',
    ),
    hidden: true,
  },
)
export const mobileShare = number(
  'mobileShare',
  'Mobile',
  84,
  'Share of the searches made on mobile phones, from the ads data',
  row => {
    const value = n(row, 'mobileShare')
    return value === null ? demandUnknown() : formatShare(value)
  },
  {
    why: given(
      'Searches on mobile phones',
      row => {
        const value = n(row, 'mobileShare')
        return value === null ? null : formatShare(value)
      },
      'the share of its searches that is made on mobile phones; the rest is made on desktops and tablets',
    ),
    hidden: true,
  },
)
export const range = number(
  'searchesLow',
  'Range',
  110,
  'Between which numbers the searches a month lie, as the source rounds',
  row => {
    const [low, high] = [n(row, 'searchesLow'), n(row, 'searchesHigh')]
    return low === null || high === null ? demandUnknown() : `${formatWhole(low)}–${formatWhole(high)}`
  },
  {
    hidden: true,
    why: row => explainRange(demandFacts(row)),
    exports: [
      { key: 'searchesLow', label: 'Searches from' },
      { key: 'searchesHigh', label: 'Searches to' },
    ],
  },
)
export const rounded: SheetColumn = {
  key: 'rounded',
  label: 'Rounded',
  width: 78,
  kind: 'code',
  explain: 'Whether four or more months in a row are identical: the source rounds',
  render: row => (row.rounded === 'yes' ? <span className="quiet">rounded</span> : ''),
  values: [
    { value: 'yes', label: 'rounded' },
    { value: 'no', label: 'not rounded' },
  ],
  hidden: true,
  why: row => explainRange(demandFacts(row)),
}
export const trendLabels: Record<string, string> = { rising: 'Rising', steady: 'Steady', falling: 'Falling' }
export const trend: SheetColumn = {
  key: 'trend',
  label: 'Trend',
  width: 96,
  kind: 'code',
  explain: 'Rising or falling over the years, season taken out, where it is clearer than chance',
  render: row => {
    const value = s(row, 'trend')
    if (!value) return <span className="unknown">unknown</span>
    return value === 'steady' ? (
      <span className="quiet">Steady</span>
    ) : (
      <span className={value === 'falling' ? 'fall' : ''}>
        {trendLabels[value]}{' '}
        <small>
          {(n(row, 'yearly') ?? 0) > 0 ? '+' : ''}
          {Math.round((n(row, 'yearly') ?? 0) * 100)}%
        </small>
      </span>
    )
  },
  values: codes(trendLabels),
  why: row => explainTrend(demandFacts(row)),
}
export const yearly = number(
  'yearly',
  'Change a year',
  100,
  'Change of searches a year as a share, 0.1 = a tenth more',
  row => {
    const value = n(row, 'yearly')
    return value === null ? <span className="unknown">unknown</span> : `${Math.round(value * 100)}%`
  },
  { hidden: true, why: row => explainTrend(demandFacts(row)) },
)
const monthsShort = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec']
export const season = number(
  'season',
  'Season',
  92,
  'Strength of the season, 0 to 1, with the months of the peak',
  row => {
    const value = n(row, 'season')
    if (value === null) return <span className="unknown">unknown</span>
    const peaks = s(row, 'peaks').split('|').filter(Boolean)
    return peaks.length ? (
      peaks
        .slice(0, 2)
        .map(month => monthsShort[Number(month) - 1])
        .join(', ')
    ) : (
      <span className="quiet">none</span>
    )
  },
  { hidden: true, why: row => explainSeason(demandFacts(row)) },
)
export const peaks: SheetColumn = {
  key: 'peaks',
  label: 'Peak month',
  width: 80,
  kind: 'code',
  explain: 'Months of the peak',
  render: () => null,
  values: monthsShort.map((label, i) => ({ value: String(i + 1), label })),
  conditionOnly: true,
  isSet: true,
}
const logSearches = number(
  'logSearches',
  'By the log',
  92,
  'Searches a month that your own query log shows at the least',
  row => {
    const value = n(row, 'logSearches')
    return value === null ? <span className="unknown">–</span> : `≥ ${formatWhole(value)}`
  },
  { hidden: true, why: row => explainLog(demandFacts(row), row.hidden === true) },
)
const logFigure = (key: string, label: string, explain: string, digits: number): SheetColumn =>
  number(
    key,
    label,
    96,
    explain,
    row => {
      const value = n(row, key)
      return value === null ? <span className="unknown">–</span> : digits ? formatOne(value) : formatWhole(value)
    },
    { hidden: true, why: row => explainLog(demandFacts(row), row.hidden === true) },
  )
export const logColumns = [
  logSearches,
  logFigure('logImpressions', 'Impressions', 'Impressions of your pages in 30 days, by your query log', 0),
  logFigure('logClicks', 'Clicks', 'Clicks on your pages in 30 days, by your query log', 0),
  logFigure('logPosition', 'Mean place', 'Mean place of your pages, by your query log', 1),
]
export const hidden: SheetColumn = {
  key: 'hidden',
  label: 'Hidden demand',
  width: 112,
  kind: 'flag',
  explain: 'Searched by your own query log though the ads data knows nothing of it or says zero',
  render: row => (row.hidden ? <span className="own">at least {formatWhole(n(row, 'logSearches') ?? 0)}</span> : ''),
  hidden: true,
  why: row => explainLog(demandFacts(row), row.hidden === true),
}
