import { changeTable } from '@dew-trail/contract/change-table'
import { reasonNames } from '@dew-trail/core/positions/reason-words'
import type { Row } from '../../rows/row-source.ts'
import type { SheetColumn } from '../../sheet/columns.ts'
import { formatOne, formatWhole } from '../../ui/format.ts'
import { positionCell } from './track-columns.tsx'

const n = (row: Row, key: string): number => Number(row[key] ?? 0)
const text = (row: Row, key: string): string => String(row[key] ?? '')
const pathOf = (address: string): string => (URL.canParse(address) ? new URL(address).pathname : address)

/** Won is said in the colour of what was kept, lost in that of a fall. */
export function Won({ value, digits = 0 }: { value: number; digits?: number }) {
  const shown = digits ? formatOne(Math.abs(value)) : formatWhole(Math.abs(value))
  if (shown === '0') return <span className="quiet">0</span>
  return (
    <span className={value > 0 ? 'kept-row' : 'fall'} style={{ fontWeight: 540 }}>
      {value > 0 ? '+' : '−'}
      {shown}
    </span>
  )
}

export const changeColumns: SheetColumn[] = [
  {
    ...changeTable.phrase,
    width: 210,
    fixed: true,
    render: row => (
      <span className="keyword-name" title={text(row, 'phrase')}>
        {text(row, 'phrase')}
      </span>
    ),
  },
  { ...changeTable.before, width: 66, align: 'right', render: row => positionCell(n(row, 'beforeValue')) },
  { ...changeTable.now, width: 60, align: 'right', render: row => positionCell(n(row, 'nowValue'), true) },
  { ...changeTable.gained, width: 70, align: 'right', render: row => <Won value={n(row, 'gained')} /> },
  {
    ...changeTable.usual,
    width: 64,
    align: 'right',
    hidden: true,
    render: row => <span className="quiet">±{formatOne(n(row, 'usual'))}</span>,
  },
  {
    ...changeTable.visits,
    width: 92,
    align: 'right',
    render: row => (row.visits === null ? <span className="unknown">unknown</span> : <Won value={n(row, 'visits')} />),
  },
  {
    ...changeTable.searches,
    width: 84,
    align: 'right',
    hidden: true,
    render: row => (row.searches === null ? <span className="unknown">–</span> : formatWhole(n(row, 'searches'))),
  },
  {
    ...changeTable.reason,
    width: 138,
    values: Object.entries(reasonNames).map(([value, label]) => ({ value, label })),
    render: row => {
      const kind = text(row, 'reason')
      return (
        <span className={kind === 'unknown' ? 'unknown' : ''} style={{ fontWeight: kind === 'unknown' ? 400 : 540 }}>
          {reasonNames[kind as keyof typeof reasonNames]}
        </span>
      )
    },
  },
  {
    ...changeTable.share,
    width: 60,
    align: 'right',
    render: row =>
      row.share === null ? (
        <span className="unknown">–</span>
      ) : (
        <span className="quiet">{formatWhole(n(row, 'share'))}%</span>
      ),
  },
  {
    ...changeTable.evidence,
    width: 430,
    render: row => (
      <span className={row.reason === 'unknown' ? 'quiet' : ''} title={text(row, 'evidence')}>
        {text(row, 'evidence')}
      </span>
    ),
  },
  {
    ...changeTable.page,
    width: 190,
    render: row =>
      row.page === null ? (
        <span className="quiet">none</span>
      ) : (
        <span title={text(row, 'page')}>{pathOf(text(row, 'page'))}</span>
      ),
  },
]
