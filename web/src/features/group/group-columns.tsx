import { competingTable, groupedStates, groupedTable, themeTable } from '@dew-trail/contract/group-tables'
import { codes, intentLabels, n } from '../../keywords/column-parts.tsx'
import { ChanceBar } from '../../pictures/ChanceBar.tsx'
import type { Row } from '../../rows/row-source.ts'
import type { SheetColumn } from '../../sheet/columns.ts'
import { formatMoney, formatOne, formatShare, formatWhole } from '../../ui/format.ts'
import { IntentStrip } from './IntentStrip.tsx'

const right = { align: 'right' as const }
const unknown = (why: string) => (
  <span className="unknown" title={why}>
    unknown
  </span>
)
const dash = (why: string) => (
  <span className="unknown" title={why}>
    –
  </span>
)
const more = (row: Row, key: string) =>
  Number(row[key]) > 0 ? (
    <span
      className="unknown"
      title={`${formatWhole(Number(row[key]))} of its keywords have no such figure and are not in the sum`}
    >
      +?
    </span>
  ) : null
/** The path of an own page; "/" for the home page. */
export const pathOf = (url: string): string => url.replace(/^https?:\/\/[^/]+/, '') || '/'
const ownPage = (row: Row, key: string, none: string) => {
  const url = row[key]
  if (url === null) return <span className="unknown">{none}</span>
  return (
    <a className="own cut" href={String(url)} target="_blank" rel="noreferrer" tabIndex={-1} title={String(url)}>
      {pathOf(String(url))}
    </a>
  )
}
const position = (row: Row, key: string) => {
  const value = n(row, key)
  return value === null ? (
    dash('No page of yours is among the results that are known')
  ) : (
    <span className="own">{Math.round(value)}</span>
  )
}
const share = (row: Row, key: string) => {
  const value = n(row, key)!
  return value === 0 ? <span className="unknown">none</span> : value === 1 ? 'all' : formatShare(value)
}
/** Pages of ten, with half ones where twenty results are compared. */
const shownOf = (row: Row, key: string): string | null => {
  const value = n(row, key)
  return value === null ? null : formatOne(value)
}
const searches = (row: Row) => {
  const value = n(row, 'searches')
  return value === null ? unknown('Searches are not known') : formatWhole(value)
}
const text = (row: Row, key: string, none: string) =>
  row[key] === null ? (
    <span className="unknown">{none}</span>
  ) : (
    <span className="cut" title={String(row[key])}>
      {String(row[key])}
    </span>
  )

export const themeColumns: SheetColumn[] = [
  {
    ...themeTable.theme,
    width: 196,
    fixed: true,
    render: row => (
      <span className="keyword-name" title={`${String(row.theme)}; lead: ${String(row.lead)}`}>
        {String(row.theme)}
        {row.locked && <small className="quiet"> locked</small>}
      </span>
    ),
  },
  { ...themeTable.keywords, ...right, width: 82, render: row => formatWhole(n(row, 'keywords')!) },
  {
    ...themeTable.searches,
    ...right,
    width: 90,
    render: row => {
      const value = n(row, 'searches')
      return value === null ? (
        unknown('The searches of none of its keywords are known')
      ) : (
        <>
          {formatWhole(value)}
          {more(row, 'searchesUnknown')}
        </>
      )
    },
  },
  {
    ...themeTable.together,
    width: 116,
    render: row => {
      const value = n(row, 'together')
      if (value === null) return dash('It has one keyword, or results of none besides the lead are known')
      return (
        <span className="weight" title={`${formatOne(value)} of the first ten results on average`}>
          <i style={{ width: value * 5.5 }} />
          {formatOne(value)}
        </span>
      )
    },
  },
  {
    ...themeTable.difficultyFrom,
    ...right,
    width: 84,
    render: row => {
      const [from, to] = [n(row, 'difficultyFrom'), n(row, 'difficultyTo')]
      if (from === null || to === null) return dash('None of its keywords is weighed in this market')
      return Math.round(from) === Math.round(to) ? Math.round(from) : `${Math.round(from)}–${Math.round(to)}`
    },
  },
  {
    ...themeTable.chance,
    ...right,
    width: 96,
    render: row => {
      const value = n(row, 'chance')
      return value === null ? dash('None of its keywords is weighed in this market') : <ChanceBar chance={value} />
    },
  },
  {
    ...themeTable.intent,
    width: 108,
    values: codes(intentLabels),
    render: row => <IntentStrip shares={row.intents as Array<number | null>} />,
  },
  {
    ...themeTable.cpc,
    ...right,
    width: 74,
    hidden: true,
    render: row => {
      const value = n(row, 'cpc')
      return value === null ? unknown('No CPC is known') : formatMoney(value)
    },
  },
  {
    ...themeTable.visits,
    ...right,
    width: 108,
    hidden: true,
    render: row => {
      const value = n(row, 'visits')
      return value === null ? (
        dash('None of its keywords is weighed in this market')
      ) : (
        <span>
          about {formatWhole(value)}
          {more(row, 'visitsUnknown')}
        </span>
      )
    },
  },
  {
    ...themeTable.ownPage,
    width: 176,
    render: row => (
      <>
        {ownPage(row, 'ownPage', 'none')}
        {Number(row.competing) > 1 && (
          <small className="own" title="Pages of yours compete for this theme">
            {' '}
            and {Number(row.competing) - 1} more
          </small>
        )}
      </>
    ),
  },
  { ...themeTable.ownPosition, ...right, width: 56, render: row => position(row, 'ownPosition') },
  { ...themeTable.planned, width: 148, render: row => text(row, 'planned', 'none') },
  { ...themeTable.tracked, ...right, width: 76, render: row => share(row, 'tracked') },
  { ...themeTable.onPlan, ...right, width: 90, hidden: true, render: row => share(row, 'onPlan') },
  { ...themeTable.competing, ...right, width: 90, hidden: true, render: row => n(row, 'competing') },
  { ...themeTable.lead, width: 160, hidden: true, render: row => text(row, 'lead', '') },
  { ...themeTable.byHand, ...right, width: 76, hidden: true, render: row => n(row, 'byHand') },
  { ...themeTable.locked, width: 60, conditionOnly: true, render: () => null },
]

export const groupedColumns: SheetColumn[] = [
  {
    ...groupedTable.phrase,
    explain: 'The phrase people search for',
    width: 236,
    fixed: true,
    render: row => (
      <span className={row.kept ? 'keyword-name kept-row' : 'keyword-name'} title={String(row.phrase)}>
        {String(row.phrase)}
      </span>
    ),
  },
  {
    ...groupedTable.theme,
    width: 196,
    render: row =>
      row.theme === null ? (
        <span className="unknown">{groupedStates[row.state as keyof typeof groupedStates]}</span>
      ) : (
        <span className="cut" title={String(row.theme)}>
          {row.isLead ? <b>{String(row.theme)}</b> : String(row.theme)}
          {row.byHand && <small className="quiet"> by hand</small>}
        </span>
      ),
  },
  {
    ...groupedTable.shared,
    ...right,
    width: 112,
    render: row =>
      row.isLead ? <b>lead</b> : (shownOf(row, 'shared') ?? dash('It is in no theme, or has no result page')),
  },
  { ...groupedTable.searches, ...right, width: 92, render: searches },
  { ...groupedTable.own, ...right, width: 56, render: row => position(row, 'own') },
  { ...groupedTable.ownPage, width: 170, render: row => ownPage(row, 'ownPage', 'none') },
  { ...groupedTable.nearest, width: 176, render: row => text(row, 'nearest', 'none') },
  { ...groupedTable.nearestShared, ...right, width: 112, render: row => shownOf(row, 'nearestShared') },
  { ...groupedTable.planned, width: 160, render: row => text(row, 'planned', 'none') },
  { ...groupedTable.state, width: 90, values: codes(groupedStates), conditionOnly: true, render: () => null },
  { ...groupedTable.isLead, width: 60, conditionOnly: true, render: () => null },
  { ...groupedTable.byHand, width: 60, conditionOnly: true, render: () => null },
  { ...groupedTable.kept, width: 60, conditionOnly: true, render: () => null },
  { ...groupedTable.tracked, width: 60, conditionOnly: true, render: () => null },
]

const visits = (row: Row, key: string) => {
  const value = n(row, key)
  return value === null ? unknown('Neither the log nor searches say') : `about ${formatWhole(value)}`
}
const seenWords = { results: 'on result pages', log: 'in your query log', both: 'on both' }
const leads = (row: Row, count: string, names: string) => (
  <span title={String(row[names])}>{formatWhole(n(row, count)!)}</span>
)
export const competingColumns: SheetColumn[] = [
  {
    ...competingTable.theme,
    width: 176,
    fixed: true,
    render: row => (
      <span className="keyword-name" title={String(row.theme)}>
        {String(row.theme)}
      </span>
    ),
  },
  { ...competingTable.keep, width: 190, render: row => ownPage(row, 'keep', '') },
  { ...competingTable.keepPosition, ...right, width: 96, render: row => position(row, 'keepPosition') },
  { ...competingTable.keepVisits, ...right, width: 90, render: row => visits(row, 'keepVisits') },
  { ...competingTable.keepKeywords, ...right, width: 80, render: row => leads(row, 'keepKeywords', 'keepLeads') },
  { ...competingTable.give, width: 190, render: row => ownPage(row, 'give', '') },
  { ...competingTable.givePosition, ...right, width: 90, render: row => position(row, 'givePosition') },
  { ...competingTable.giveVisits, ...right, width: 90, render: row => visits(row, 'giveVisits') },
  { ...competingTable.giveKeywords, ...right, width: 90, render: row => leads(row, 'giveKeywords', 'giveLeads') },
  {
    ...competingTable.seen,
    width: 120,
    values: codes(seenWords),
    render: row => <span className="quiet">{seenWords[row.seen as keyof typeof seenWords]}</span>,
  },
]
