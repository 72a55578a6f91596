import { type PageState, pageStates, type WorkKind, workKinds } from '@dew-trail/contract/plan'
import { planTable } from '@dew-trail/contract/plan-table'
import { formatDay, formatMoney, formatOne, formatWhole } from '../../ui/format.ts'
import { kindLabels, stateLabels } from './plan-words.ts'
import type { SheetColumn } from '../../sheet/columns.ts'
import type { Row } from '../../rows/row-source.ts'

const unknown = (why: string) => (
  <span className="unknown" title={why}>
    unknown
  </span>
)
const gap = (row: Row, key: string) =>
  Number(row[key]) > 0 ? (
    <span
      className="unknown"
      title={`${formatWhole(Number(row[key]))} of its keywords have no such figure and are not in the sum`}
    >
      +?
    </span>
  ) : null
const n = (row: Row, key: string): number | null => row[key] as number | null

export const planColumns: SheetColumn[] = [
  {
    ...planTable.title,
    width: 232,
    fixed: true,
    render: row => (
      <span className="keyword-name" title={String(row.title)}>
        {String(row.title)}
      </span>
    ),
  },
  {
    ...planTable.state,
    width: 104,
    values: pageStates.map(value => ({ value, label: stateLabels[value] })),
    render: row =>
      row.late ? (
        <span className="fall">{stateLabels[row.state as PageState]}, late</span>
      ) : (
        stateLabels[row.state as PageState]
      ),
  },
  {
    ...planTable.kind,
    width: 110,
    values: workKinds.map(value => ({ value, label: kindLabels[value] })),
    render: row => <span className="quiet">{kindLabels[row.kind as WorkKind]}</span>,
  },
  {
    ...planTable.owner,
    width: 90,
    hidden: true,
    render: row => (row.owner === null ? <span className="unknown">nobody</span> : String(row.owner)),
  },
  {
    ...planTable.effort,
    width: 60,
    align: 'right',
    hidden: true,
    render: row => {
      const value = n(row, 'effort')
      return value === null ? unknown('Nobody said how long it takes') : formatOne(value)
    },
  },
  {
    ...planTable.deadline,
    width: 110,
    render: row =>
      row.deadline ? (
        <span className={row.late ? 'fall' : ''}>{formatDay(String(row.deadline))}</span>
      ) : (
        <span className="unknown">none</span>
      ),
  },
  {
    ...planTable.lead,
    width: 180,
    render: row => (
      <span title={String(row.lead ?? '')}>
        {row.lead === null ? <i className="unknown">no keyword yet</i> : String(row.lead)}
      </span>
    ),
  },
  {
    ...planTable.themes,
    width: 170,
    hidden: true,
    render: row =>
      row.themes === null ? (
        <span className="unknown">none</span>
      ) : (
        <span title={String(row.themes)}>{String(row.themes)}</span>
      ),
  },
  {
    ...planTable.keywords,
    width: 86,
    align: 'right',
    render: row => n(row, 'keywords'),
  },
  {
    ...planTable.searches,
    width: 100,
    align: 'right',
    render: row => {
      const value = n(row, 'searches')
      return value === null ? (
        unknown('No keyword of this page has known searches')
      ) : (
        <>
          {formatWhole(value)}
          {gap(row, 'searchesUnknown')}
        </>
      )
    },
  },
  {
    ...planTable.difficultyFrom,
    width: 100,
    align: 'right',
    render: row => {
      const from = n(row, 'difficultyFrom')
      const to = n(row, 'difficultyTo')
      return from === null || to === null
        ? unknown('None of its keywords is weighed in this market')
        : Math.round(from) === Math.round(to)
          ? Math.round(from)
          : `${Math.round(from)}–${Math.round(to)}`
    },
  },
  {
    ...planTable.position,
    width: 54,
    align: 'right',
    render: row => {
      const value = n(row, 'position')
      return value === null ? (
        <span className="unknown" title="Not among the results that are known of the lead">
          –
        </span>
      ) : (
        <span className="own">{Math.round(value)}</span>
      )
    },
  },
  {
    ...planTable.cpc,
    width: 74,
    align: 'right',
    hidden: true,
    render: row => {
      const value = n(row, 'cpc')
      return value === null ? unknown('No CPC is known') : formatMoney(value)
    },
  },
  {
    ...planTable.visitsNow,
    width: 92,
    align: 'right',
    render: row => {
      const value = n(row, 'visitsNow')
      return value === null ? unknown('The site is not known to stand for its keywords') : formatWhole(value)
    },
  },
  {
    ...planTable.visits,
    width: 112,
    align: 'right',
    render: row => {
      const value = n(row, 'visits')
      return value === null ? (
        unknown('None of its keywords is weighed in this market')
      ) : (
        <span
          title={
            n(row, 'low') === null
              ? undefined
              : `Likely ${formatWhole(n(row, 'low')!)} to ${formatWhole(n(row, 'high')!)}`
          }
        >
          about {formatWhole(value)}
          {gap(row, 'visitsUnknown')}
        </span>
      )
    },
  },
  {
    ...planTable.gain,
    width: 74,
    align: 'right',
    render: row => {
      const value = n(row, 'gain')
      return value === null ? unknown('None of its keywords is weighed in this market') : formatWhole(value)
    },
  },
  {
    ...planTable.worth,
    width: 84,
    align: 'right',
    render: row => {
      const value = n(row, 'worth')
      return value === null ? unknown('No gain, or no CPC, is known') : formatMoney(value)
    },
  },
  {
    ...planTable.rulesBroken,
    width: 60,
    align: 'right',
    hidden: true,
    render: row =>
      n(row, 'rulesBroken') ? (
        <span className="fall">{n(row, 'rulesBroken')}</span>
      ) : (
        <span className="quiet">met</span>
      ),
  },
  {
    ...planTable.address,
    width: 176,
    render: row => (
      <span className="quiet" title={String(row.address ?? '')}>
        {row.address === null ? '' : String(row.address)}
      </span>
    ),
  },
]
