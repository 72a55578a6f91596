import { keywordTable } from '@dew-trail/contract/keyword-table'
import type { SheetColumn } from '../sheet/columns.ts'
import { formatDay } from '../ui/format.ts'
import { n, s, intentLabels, kindLabels, wayLabels, codes, number } from './column-parts.tsx'
import {
  searches,
  months,
  cpc,
  competition,
  matches,
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
  countText,
  countTitle,
  difficulty,
  lacks,
  newChance,
  newVisits,
  newWorth,
  noClickShare,
  organicShare,
  pageHigher,
  paidShare,
  reported,
  rival,
  rivalPosition,
  terrain,
  visits,
  visitsFirst,
  worth,
  worthFirst,
} from './weigh-figure-columns.tsx'

const phrase: SheetColumn = {
  ...keywordTable.phrase,
  width: 236,
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
  ...keywordTable.kind,
  width: 98,
  render: row => <span className="quiet">{kindLabels[s(row, 'kind')]}</span>,
  values: codes(kindLabels),
}
const intent: SheetColumn = {
  ...keywordTable.intent,
  width: 90,
  render: row => intentLabels[s(row, 'intent')],
  values: codes(intentLabels),
  hidden: true,
}
const words = number(keywordTable.words, 70, row => n(row, 'words'), { hidden: true })
const cameFrom: SheetColumn = {
  ...keywordTable.cameFrom,
  width: 152,
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
const position = number(keywordTable.position, 64, row => {
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
})
const brandLabels: Record<string, string> = { none: 'No brand', own: 'My brand', rival: "A rival's brand" }
const brand: SheetColumn = {
  ...keywordTable.brand,
  width: 100,
  render: row => (row.brand === 'none' ? '' : brandLabels[s(row, 'brand')]),
  values: codes(brandLabels),
  hidden: true,
}
const lists: SheetColumn = {
  ...keywordTable.lists,
  width: 60,
  render: () => null,
  isSet: true,
  conditionOnly: true,
}
const labels: SheetColumn = {
  ...keywordTable.labels,
  width: 140,
  render: row => <span title={s(row, 'labels')}>{s(row, 'labels').split('|').join(', ')}</span>,
  isSet: true,
  hidden: true,
}
const theme: SheetColumn = {
  ...keywordTable.theme,
  width: 150,
  render: row => <span title={s(row, 'theme')}>{s(row, 'theme')}</span>,
  hidden: true,
}
const notAsked = (
  <span className="unknown" title="The registry was not asked: “Free domain names” among the actions asks it">
    –
  </span>
)
const freeNames = number(keywordTable.freeNames, 86, row => n(row, 'freeNames') ?? notAsked, { hidden: true })
const names: SheetColumn = {
  ...keywordTable.names,
  width: 170,
  render: row => {
    if (n(row, 'freeNames') === null) return notAsked
    const list = s(row, 'names').split('|').filter(Boolean)
    return list.length ? <span title={list.join('\n')}>{list.join(', ')}</span> : <span className="quiet">none</span>
  },
  isSet: true,
  hidden: true,
}
const page: SheetColumn = {
  ...keywordTable.page,
  width: 150,
  render: row => <span title={s(row, 'page')}>{s(row, 'page')}</span>,
}
const kept: SheetColumn = {
  ...keywordTable.kept,
  width: 60,
  render: row => (row.kept ? 'yes' : ''),
  conditionOnly: true,
}
const tracked: SheetColumn = {
  ...keywordTable.tracked,
  width: 60,
  render: row => (row.tracked ? 'yes' : ''),
  conditionOnly: true,
}
const gatherings: SheetColumn = {
  ...keywordTable.gatherings,
  width: 60,
  render: () => null,
  isSet: true,
  conditionOnly: true,
}

/** Who else gets the clicks. */
const competitors = [organicShare, paidShare, noClickShare, rivalPosition, rival]

export const gatherColumns: SheetColumn[] = [
  phrase,
  searches,
  worldwide,
  ...matches,
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
  newChance,
  newVisits,
  newWorth,
  { ...pageHigher, hidden: true },
  ...lacks,
  reported,
  countText,
  countTitle,
  { ...visitsFirst, hidden: true },
  { ...worthFirst, hidden: true },
  { ...page, hidden: true },
  ...competitors,
  kept,
  tracked,
  gatherings,
  peaks,
  lists,
  labels,
  theme,
  freeNames,
  names,
]
export const weighColumns: SheetColumn[] = [
  { ...phrase, width: 310 },
  searches,
  { ...months, hidden: true },
  { ...cpc, hidden: true },
  difficulty,
  terrain,
  chance,
  pageHigher,
  newChance,
  visits,
  worth,
  newVisits,
  newWorth,
  { ...visitsFirst, hidden: true },
  { ...worthFirst, hidden: true },
  ...lacks,
  reported,
  countText,
  countTitle,
  position,
  { ...page, width: 230 },
  theme,
  { ...kind, hidden: true },
  { ...competition, hidden: true },
  intent,
  words,
  { ...cameFrom, hidden: true },
  ...competitors,
  tracked,
]
