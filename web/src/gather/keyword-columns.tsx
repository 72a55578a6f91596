import type { SheetColumn } from '../sheet/columns.ts'
import type { Row } from '../sheet/row-source.ts'
import { ChanceBar } from '../charts/ChanceBar.tsx'
import { MonthBars } from '../charts/MonthBars.tsx'
import { Slope } from '../charts/Slope.tsx'
import { TerrainSmall } from '../charts/Terrain.tsx'
import { formatDay, formatMoney, formatOne, formatWhole } from '../format.ts'

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
const demandUnknown = (row: Row) =>
  unknown(demandWhy[s(row, 'demandState')] ?? 'Unknown: the source gave no such figure')
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
const dated = (row: Row): string =>
  row.demandDate
    ? `, ${row.demandSource === 'import' ? 'imported' : 'asked'} on ${formatDay(s(row, 'demandDate'))}`
    : ''
const searchesFrom = (row: Row): string =>
  row.demandSource === 'import'
    ? `Searches a month as your file says${dated(row)}.`
    : `Mean of the last 12 known months, from the ads data${dated(row)}. The source rounds to bands of about a fifth.`
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
    return value === null ? demandUnknown(row) : <span title={searchesFrom(row)}>{formatWhole(value)}</span>
  },
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
const cpc = number('cpc', 'CPC', 66, 'Cost per click in ads', row => {
  const value = n(row, 'cpc')
  return value === null ? (
    demandUnknown(row)
  ) : (
    <span
      title={`Cost per click; bids from ${n(row, 'bidLow') === null ? 'unknown' : formatMoney(n(row, 'bidLow')!)} to ${n(row, 'bidHigh') === null ? 'unknown' : formatMoney(n(row, 'bidHigh')!)}${dated(row)}`}
    >
      {formatMoney(value)}
    </span>
  )
})
const competition = number(
  'competition',
  'Advertisers',
  98,
  'Advertiser competition, 0 to 1, from the ads data',
  row => {
    const value = n(row, 'competition')
    return value === null ? demandUnknown(row) : value.toFixed(2)
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
    return value === null ? (
      notWeighed(row)
    ) : (
      <span
        title={`A site of standing ${Math.round(value)} would have an even chance with a new, well-fitting page. First page of ${row.weighedOn ? formatDay(s(row, 'weighedOn')) : 'unknown date'}.`}
      >
        <Slope difficulty={value} />
      </span>
    )
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
const worth = number('worth', 'Worth/mo', 88, 'Expected visits a month from the chances, times CPC', row => {
  const value = n(row, 'worth')
  return value === null ? (
    notWeighed(row)
  ) : (
    <span
      title={`About ${formatOne(n(row, 'visits') ?? 0)} visits × CPC ${formatMoney(n(row, 'cpc') ?? 0)}. Visits: searches × share of clicks by the chances of standing within 3, 10 and 20; default click curve.`}
    >
      {formatWhole(value)}
    </span>
  )
})
const visits = number(
  'visits',
  'Visits/mo',
  88,
  'Expected visits a month, from the chances and the default click curve',
  row => {
    const value = n(row, 'visits')
    return value === null ? notWeighed(row) : formatWhole(value)
  },
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
  kind,
  difficulty,
  position,
  cameFrom,
  intent,
  words,
  { ...terrain, hidden: true },
  { ...chance, hidden: true },
  { ...worth, hidden: true },
  { ...page, hidden: true },
  kept,
  tracked,
  gatherings,
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
