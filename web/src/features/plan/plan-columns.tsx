import { type PageState, pageStates } from '@dew-trail/contract/plan'
import { planTable } from '@dew-trail/contract/plan-table'
import { formatDay, formatMoney, formatWhole } from '../../ui/format.ts'
import type { SheetColumn } from '../../sheet/columns.ts'
import type { Row } from '../../rows/row-source.ts'

export const stateLabels: Record<PageState | 'late', string> = {
  idea: 'Idea',
  writing: 'Writing',
  published: 'Published',
  late: 'Late',
}
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
    ...planTable.cpc,
    width: 74,
    align: 'right',
    render: row => {
      const value = n(row, 'cpc')
      return value === null ? unknown('No CPC is known') : formatMoney(value)
    },
  },
  {
    ...planTable.visits,
    width: 100,
    align: 'right',
    render: row => {
      const value = n(row, 'visits')
      return value === null ? (
        unknown('None of its keywords is weighed in this market')
      ) : (
        <span>
          about {formatWhole(value)}
          {gap(row, 'visitsUnknown')}
        </span>
      )
    },
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
