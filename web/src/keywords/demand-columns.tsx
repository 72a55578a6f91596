import {
  explainLog,
  explainRange,
  explainSearches,
  explainSeason,
  explainTrend,
} from '@dew-trail/core/demand/explain-demand'
import { Counted } from '../ui/Counted.tsx'
import { MonthBars } from '../pictures/MonthBars.tsx'
import { formatMoney, formatOne, formatShare, formatWhole } from '../ui/format.ts'
import type { TableColumn } from '@dew-trail/core/tables/table-column'
import { keywordTable } from '@dew-trail/contract/keyword-table'
import type { Row } from '../rows/row-source.ts'
import type { SheetColumn } from '../sheet/columns.ts'
import { n, s, demandUnknown, given, codes, number, unknown } from './column-parts.tsx'
import { demandFacts } from './demand-facts.ts'

export const searches = number(
  keywordTable.searches,
  98,
  row => {
    const value = n(row, 'searches')
    return value === null ? demandUnknown() : <Counted value={value} hidden={row.hidden === true} />
  },
  { why: row => explainSearches(demandFacts(row)) },
)
export const months: SheetColumn = {
  ...keywordTable.months,
  width: 88,
  render: row =>
    Array.isArray(row.months) && row.months.some(month => month !== null) ? (
      <MonthBars months={row.months} end={(row.monthsEnd as string | null) ?? null} />
    ) : null,
}
export const cpc = number(
  keywordTable.cpc,
  66,
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
  keywordTable.competition,
  108,
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
  keywordTable.worldwide,
  100,
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
  keywordTable.mobileShare,
  84,
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
const byMatch = (column: TableColumn, key: string, formula: string): SheetColumn =>
  number(
    column,
    96,
    row => {
      const value = n(row, key)
      return value === null ? (
        unknown(matchUnknown(row))
      ) : s(row, 'matchFrom') === 'body' ? (
        <span title="At least so many: summed over the keywords that you have">≥ {formatWhole(value)}</span>
      ) : (
        formatWhole(value)
      )
    },
    { why: row => explainMatch(row, column.label, n(row, key), formula), hidden: true },
  )
const matchUnknown = (row: Row): string =>
  s(row, 'matchFrom')
    ? 'Unknown: several wordings share one figure, which does not say how many people type which'
    : 'Unknown: the ads data tells no totals by match of it, and no other keyword with searches that you have holds its words'
const explainMatch = (row: Row, figure: string, value: number | null, formula: string) => ({
  figure,
  value: value === null ? null : formatWhole(value),
  formula,
  inputs: [],
  source: s(row, 'matchFrom') === 'body' ? 'the keywords that you have, so at least' : 'ads data',
  date: s(row, 'matchFrom') === 'body' ? null : s(row, 'demandDate') || null,
})
export const matches: SheetColumn[] = [
  byMatch(keywordTable.matchExact, 'matchExact', 'searches a month of this wording alone'),
  byMatch(
    keywordTable.matchOrder,
    'matchOrder',
    'searches a month, summed over all phrases that hold these words side by side in this order',
  ),
  byMatch(keywordTable.matchAny, 'matchAny', 'searches a month, summed over all phrases that hold all of these words'),
  number(
    keywordTable.orderShare,
    78,
    row => {
      const value = n(row, 'orderShare')
      return value === null ? unknown(matchUnknown(row)) : formatShare(value)
    },
    {
      why: row => ({
        ...explainMatch(row, 'Said in this order', null, 'searches in this order ÷ searches in any order'),
        value: n(row, 'orderShare') === null ? null : formatShare(n(row, 'orderShare')!),
        inputs: (['matchOrder', 'matchAny'] as const).map(key => ({
          name: keywordTable[key].label.toLowerCase(),
          value: n(row, key) === null ? null : formatWhole(n(row, key)!),
        })),
      }),
      hidden: true,
    },
  ),
]
export const range = number(
  keywordTable.searchesLow,
  110,
  row => {
    const [low, high] = [n(row, 'searchesLow'), n(row, 'searchesHigh')]
    return low === null || high === null ? demandUnknown() : `${formatWhole(low)}–${formatWhole(high)}`
  },
  {
    hidden: true,
    why: row => explainRange(demandFacts(row)),
  },
)
export const rounded: SheetColumn = {
  ...keywordTable.rounded,
  width: 78,
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
  ...keywordTable.trend,
  width: 96,
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
  keywordTable.yearly,
  100,
  row => {
    const value = n(row, 'yearly')
    return value === null ? <span className="unknown">unknown</span> : `${Math.round(value * 100)}%`
  },
  { hidden: true, why: row => explainTrend(demandFacts(row)) },
)
const monthsShort = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec']
export const season = number(
  keywordTable.season,
  92,
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
  ...keywordTable.peaks,
  width: 80,
  render: () => null,
  values: monthsShort.map((label, i) => ({ value: String(i + 1), label })),
  conditionOnly: true,
  isSet: true,
}
const logSearches = number(
  keywordTable.logSearches,
  92,
  row => {
    const value = n(row, 'logSearches')
    return value === null ? <span className="unknown">–</span> : `≥ ${formatWhole(value)}`
  },
  { hidden: true, why: row => explainLog(demandFacts(row)) },
)
const logFigure = (column: TableColumn, digits: number): SheetColumn =>
  number(
    column,
    96,
    row => {
      const value = n(row, column.key)
      return value === null ? <span className="unknown">–</span> : digits ? formatOne(value) : formatWhole(value)
    },
    { hidden: true, why: row => explainLog(demandFacts(row)) },
  )
export const logColumns = [
  logSearches,
  logFigure(keywordTable.logImpressions, 0),
  logFigure(keywordTable.logClicks, 0),
  logFigure(keywordTable.logPosition, 1),
]
export const hidden: SheetColumn = {
  ...keywordTable.hidden,
  width: 112,
  render: row => (row.hidden ? <span className="own">at least {formatWhole(n(row, 'searches') ?? 0)}</span> : ''),
  hidden: true,
  why: row => explainLog(demandFacts(row)),
}
