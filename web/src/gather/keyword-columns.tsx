import {
  explainLog,
  explainRange,
  explainSearches,
  explainSeason,
  explainTrend,
  explainVisits,
} from '@dew-trail/core/demand/explain-demand'
import { demandFacts } from './demand-facts.ts'
import type { SheetColumn } from '../sheet/columns.ts'
import type { Row } from '../sheet/row-source.ts'
import { ChanceBar } from '../charts/ChanceBar.tsx'
import { MonthBars } from '../charts/MonthBars.tsx'
import { Slope } from '../charts/Slope.tsx'
import { TerrainSmall } from '../charts/Terrain.tsx'
import { formatMoney, formatOne, formatWhole } from '../format.ts'

const n = (row: Row, key: string): number | null => row[key] as number | null
export const s = (row: Row, key: string): string => (row[key] as string | null) ?? ''

export const intentLabels: Record<string, string> = {
  learn: 'Learn',
  compare: 'Compare',
  buy: 'Buy',
  go: 'Go to a site',
  near: 'Near me',
}
export const kindLabels: Record<string, string> = {
  question: 'Question',
  comparison: 'Comparison',
  preposition: 'Preposition',
  completion: 'Completion',
  related: 'Related',
}
export const wayLabels: Record<string, string> = {
  completions: 'completion',
  related: 'related',
  ads: 'ads data',
  log: 'query log',
  import: 'import',
}
const demandWhy: Record<string, string> = {
  notAsked: 'Unknown: the ads data has not been asked for this keyword in this place. F asks.',
  nothing: 'Unknown: the ads data has nothing about this keyword, which is not zero. F asks again.',
  failed: 'Unknown: the ads data failed when it was asked. F asks again.',
}

/** A figure that is not known says so and why; it is never a zero. */
const unknown = (why: string) => (
  <span className="unknown" title={why}>
    unknown
  </span>
)
const demandUnknown = () => <span className="unknown">unknown</span>
const notWeighed = (row: Row) =>
  s(row, 'weighState') === 'failed' ? (
    unknown('Unknown: the engine failed when this keyword was weighed; weigh it again (W)')
  ) : s(row, 'weighState') === 'nothing' ? (
    unknown('The engine showed no results')
  ) : (
    <span className="unknown" title="Not weighed yet: press W">
      –
    </span>
  )
const whyVisits: SheetColumn['why'] = row =>
  explainVisits({
    searches: n(row, 'searches'),
    visits: n(row, 'visits'),
    cpc: n(row, 'cpc'),
    worth: n(row, 'worth'),
    chance: n(row, 'chance'),
    fitted: row.fittedCurve === true,
    date: (row.weighedOn as string | null) ?? null,
  })
/** A figure the ads data gives as it is. */
const given =
  (figure: string, show: (row: Row) => string | null, formula: string): NonNullable<SheetColumn['why']> =>
  row => {
    const value = show(row)
    return {
      figure,
      value,
      formula,
      inputs: [],
      source: row.demandSource === 'import' ? 'your file' : 'ads data',
      date: (row.demandDate as string | null) ?? null,
      ...(value === null ? { note: demandWhy[s(row, 'demandState')] ?? 'The source gave no such figure.' } : {}),
    }
  }
const codes = (labels: Record<string, string>) => Object.entries(labels).map(([value, label]) => ({ value, label }))

const number = (
  key: string,
  label: string,
  width: number,
  explain: string,
  render: SheetColumn['render'],
  more: Partial<SheetColumn> = {},
): SheetColumn => ({ key, label, width, align: 'right', kind: 'number', explain, render, ...more })

const phrase: SheetColumn = {
  key: 'phrase',
  label: 'Keyword',
  width: 236,
  kind: 'text',
  explain: 'The phrase people search for, with its leading intent',
  fixed: true,
  render: row => (
    <>
      <span className={row.kept ? 'keyword-name kept-row' : 'keyword-name'} title={s(row, 'phrase')}>
        {s(row, 'phrase')}
      </span>
      {Number(row.familySize) > 1 && (
        <button
          type="button"
          tabIndex={-1}
          className="family-size"
          data-family={row.id}
          title={`${Number(row.familySize) - 1} more forms of this keyword: singular, plural, word order. V shows them.`}
        >
          +{Number(row.familySize) - 1}
        </button>
      )}
      <small
        title={`Intent: ${intentLabels[s(row, 'intent')]}, probability ${Math.round((n(row, 'intentShare') ?? 0) * 100)}% by its words`}
      >
        {intentLabels[s(row, 'intent')]}
      </small>
    </>
  ),
}
const searches = number(
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
const months: SheetColumn = {
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
const cpc = number(
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
      )(row),
      inputs: [
        { name: 'low bid', value: n(row, 'bidLow') === null ? null : formatMoney(n(row, 'bidLow')!) },
        { name: 'high bid', value: n(row, 'bidHigh') === null ? null : formatMoney(n(row, 'bidHigh')!) },
      ],
    }),
  },
)
const competition = number(
  'competition',
  'Advertisers',
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
    ),
  },
)
const kind: SheetColumn = {
  key: 'kind',
  label: 'Kind',
  width: 98,
  kind: 'code',
  explain: 'Question, comparison, with a preposition, completion or related',
  render: row => <span className="quiet">{kindLabels[s(row, 'kind')]}</span>,
  values: codes(kindLabels),
}
const intent: SheetColumn = {
  key: 'intent',
  label: 'Intent',
  width: 90,
  kind: 'code',
  explain: 'What the searcher most likely wants',
  render: row => intentLabels[s(row, 'intent')],
  values: codes(intentLabels),
  hidden: true,
}
const words = number('words', 'Words', 70, 'Number of words', row => n(row, 'words'), { hidden: true })
const cameFrom: SheetColumn = {
  key: 'cameFrom',
  label: 'Came from',
  width: 152,
  kind: 'code',
  explain: 'The ways in which the keyword was found',
  render: row => (
    <span className="quiet">
      {s(row, 'cameFrom')
        .split('|')
        .map(way => wayLabels[way] ?? way)
        .join(', ')}
    </span>
  ),
  values: codes(wayLabels),
}
const difficulty = number(
  'difficulty',
  'Difficulty',
  100,
  'The site standing at which a new, well-fitting page has an even chance of the first page, 0 to 100',
  row => {
    const value = n(row, 'difficulty')
    return value === null ? notWeighed(row) : <Slope difficulty={value} />
  },
  {
    limits: [
      { value: 'comfortable', label: 'my comfortable level' },
      { value: 'stretch', label: 'my stretch level' },
    ],
    why: row => ({
      figure: 'Difficulty',
      value: n(row, 'difficulty') === null ? null : String(Math.round(n(row, 'difficulty')!)),
      formula: 'the site standing (0–100) at which a new, well-fitting page has an even chance of the first page',
      inputs: [{ name: 'your level', value: n(row, 'ownLevel') === null ? null : Math.round(n(row, 'ownLevel')!) }],
      source: 'strengths of the results on the first page',
      date: (row.weighedOn as string | null) ?? null,
      note:
        n(row, 'difficulty') === null ? 'Not weighed yet: W weighs it.' : 'Unfold the row for the results it rests on.',
    }),
  },
)
const terrain: SheetColumn = {
  key: 'terrain',
  label: 'Terrain',
  width: 96,
  kind: 'series',
  explain: 'Strengths of the first results, left to right, against your own level (amber)',
  render: row =>
    Array.isArray(row.terrain) && row.terrain.some(level => level !== null) ? (
      <TerrainSmall levels={row.terrain} ownLevel={n(row, 'ownLevel')} />
    ) : null,
}
const chance = number(
  'chance',
  'Chance',
  102,
  'Chance that a new, well-fitting page of your site stands on the first page',
  row => {
    const value = n(row, 'chance')
    return value === null ? (
      notWeighed(row)
    ) : (
      <span title={likely(row)}>
        <ChanceBar chance={value} />
      </span>
    )
  },
)
const worth = number(
  'worth',
  'Worth/mo',
  88,
  'Expected visits a month from the chances, times CPC',
  row => {
    const value = n(row, 'worth')
    return value === null ? notWeighed(row) : formatWhole(value)
  },
  { why: whyVisits },
)
const visits = number(
  'visits',
  'Visits/mo',
  88,
  'Expected visits a month, from the chances and the click curve',
  row => {
    const value = n(row, 'visits')
    return value === null ? notWeighed(row) : formatWhole(value)
  },
  { why: whyVisits },
)
const position = number('position', 'You', 64, 'Your own position at the last check', row => {
  const value = n(row, 'position')
  const state = s(row, 'positionState')
  return value !== null ? (
    <span className="own">{value}</span>
  ) : state ? (
    <span className="own" title={`Not found within the first ${state.replace('beyond', '')}`}>
      {'>'}
      {state.replace('beyond', '')}
    </span>
  ) : (
    <span className="unknown" title={row.tracked ? 'Not checked yet' : 'Not tracked: press T'}>
      –
    </span>
  )
})
const range = number(
  'searchesLow',
  'Range',
  110,
  'Between which numbers the searches a month lie, as the source rounds',
  row => {
    const [low, high] = [n(row, 'searchesLow'), n(row, 'searchesHigh')]
    return low === null || high === null ? demandUnknown() : `${formatWhole(low)}–${formatWhole(high)}`
  },
  { hidden: true, why: row => explainRange(demandFacts(row)) },
)
const rounded: SheetColumn = {
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
const trend: SheetColumn = {
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
const yearly = number(
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
const season = number(
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
const peaks: SheetColumn = {
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
const brandLabels: Record<string, string> = { none: 'No brand', own: 'My brand', rival: "A rival's brand" }
const brand: SheetColumn = {
  key: 'brand',
  label: 'Brand',
  width: 100,
  kind: 'code',
  explain: 'Whether the keyword names you or a rival, by the brand words of the site',
  render: row => (row.brand === 'none' ? '' : brandLabels[s(row, 'brand')]),
  values: codes(brandLabels),
  hidden: true,
}
const hidden: SheetColumn = {
  key: 'hidden',
  label: 'Hidden demand',
  width: 112,
  kind: 'flag',
  explain: 'Searched by your own query log though the ads data knows nothing of it or says zero',
  render: row => (row.hidden ? <span className="own">at least {formatWhole(n(row, 'logSearches') ?? 0)}</span> : ''),
  hidden: true,
  why: row => explainLog(demandFacts(row), row.hidden === true),
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
const logColumns = [
  logSearches,
  logFigure('logImpressions', 'Impressions', 'Impressions of your pages in 30 days, by your query log', 0),
  logFigure('logClicks', 'Clicks', 'Clicks on your pages in 30 days, by your query log', 0),
  logFigure('logPosition', 'Mean place', 'Mean place of your pages, by your query log', 1),
]
const lists: SheetColumn = {
  key: 'lists',
  label: 'Shortlist',
  width: 60,
  kind: 'code',
  explain: 'On a shortlist',
  render: () => null,
  conditionOnly: true,
}
const page: SheetColumn = {
  key: 'page',
  label: 'On page',
  width: 150,
  kind: 'code',
  explain: 'The planned page it stands on',
  render: row => <span title={s(row, 'page')}>{s(row, 'page')}</span>,
}
const kept: SheetColumn = {
  key: 'kept',
  label: 'kept',
  width: 60,
  kind: 'flag',
  explain: 'Kept for weighing',
  render: row => (row.kept ? 'yes' : ''),
  conditionOnly: true,
}
const tracked: SheetColumn = {
  key: 'tracked',
  label: 'tracked',
  width: 60,
  kind: 'flag',
  explain: 'Watched in Track',
  render: row => (row.tracked ? 'yes' : ''),
  conditionOnly: true,
}
const gatherings: SheetColumn = {
  key: 'gatherings',
  label: 'Gathering',
  width: 60,
  kind: 'code',
  explain: 'Found by a gathering',
  render: () => null,
  conditionOnly: true,
}

function likely(row: Row): string {
  const from = n(row, 'likelyFrom')
  const to = n(row, 'likelyTo')
  return from === null
    ? 'Likely place beyond 20. Unfold for the reasons.'
    : `Likely place ${from}${to === null ? ' to beyond 20' : to === from ? '' : `–${to}`} (six times in ten). Unfold for the reasons.`
}

export const gatherColumns: SheetColumn[] = [
  phrase,
  searches,
  months,
  cpc,
  competition,
  trend,
  difficulty,
  position,
  cameFrom,
  { ...kind, hidden: true },
  season,
  range,
  rounded,
  yearly,
  brand,
  hidden,
  ...logColumns,
  intent,
  words,
  { ...terrain, hidden: true },
  { ...chance, hidden: true },
  { ...worth, hidden: true },
  { ...page, hidden: true },
  kept,
  tracked,
  gatherings,
  peaks,
  lists,
]
export const weighColumns: SheetColumn[] = [
  { ...phrase, width: 310 },
  searches,
  { ...months, hidden: true },
  { ...cpc, hidden: true },
  difficulty,
  terrain,
  chance,
  visits,
  worth,
  position,
  { ...page, width: 230 },
  { ...kind, hidden: true },
  { ...competition, hidden: true },
  intent,
  words,
  { ...cameFrom, hidden: true },
  tracked,
]
