import type { SheetColumn } from '../sheet/columns.ts'
import { formatDay } from '../ui/format.ts'
import { n, s, intentLabels, kindLabels, wayLabels, codes, number } from './column-parts.tsx'
import {
  searches,
  months,
  cpc,
  competition,
  worldwide,
  mobileShare,
  range,
  rounded,
  trend,
  yearly,
  season,
  peaks,
  logColumns,
  hidden,
} from './demand-columns.tsx'
import {
  chance,
  difficulty,
  noClickShare,
  organicShare,
  paidShare,
  rival,
  rivalPlace,
  terrain,
  visits,
  worth,
} from './weigh-figure-columns.tsx'

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
const position = number(
  'position',
  'You',
  64,
  'Your own position at the last check, or on the latest result page where it is not tracked',
  row => {
    const value = n(row, 'position')
    const state = s(row, 'positionState')
    return value !== null ? (
      <span
        className="own"
        title={state === 'weighed' ? `On the result page of ${formatDay(s(row, 'resultsOn'))}; not tracked` : ''}
      >
        {value}
      </span>
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
  },
)
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
const lists: SheetColumn = {
  key: 'lists',
  label: 'Shortlist',
  width: 60,
  kind: 'code',
  explain: 'On a shortlist',
  render: () => null,
  conditionOnly: true,
}
const labels: SheetColumn = {
  key: 'labels',
  label: 'Labels',
  width: 140,
  kind: 'code',
  explain: 'What you said of the keyword by labels',
  render: row => <span title={s(row, 'labels')}>{s(row, 'labels').split('|').join(', ')}</span>,
  isSet: true,
  hidden: true,
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

/** Who else gets the clicks. */
const competitors = [organicShare, paidShare, noClickShare, rivalPlace, rival]

export const gatherColumns: SheetColumn[] = [
  phrase,
  searches,
  worldwide,
  months,
  cpc,
  competition,
  mobileShare,
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
  ...competitors,
  kept,
  tracked,
  gatherings,
  peaks,
  lists,
  labels,
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
  ...competitors,
  tracked,
]
