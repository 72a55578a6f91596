import type { Market } from '@dew-trail/contract/sites'
import { type PageFeature, pageFeatureNames, pageFeatures } from '@dew-trail/core/positions/page-features'
import { columnOf, rivalColumnOf, trackTable } from '@dew-trail/contract/track-table'
import { PositionLine } from '../../pictures/PositionLine.tsx'
import { RangeTrack } from '../../pictures/RangeTrack.tsx'
import { Counted } from '../../ui/Counted.tsx'
import { formatDay, formatOne, formatWhole, plural } from '../../ui/format.ts'
import type { SheetColumn } from '../../sheet/columns.ts'
import type { Row } from '../../rows/row-source.ts'

export const changeLabels: Record<string, string> = {
  up: 'Up',
  down: 'Down',
  same: 'Same',
  new: 'New',
  out: 'Out',
  absent: 'Not found',
  unknown: 'Not checked',
}
export const positionCell = (value: number, strong = false) =>
  value > 0 ? (
    <span style={{ fontWeight: strong ? 640 : 400, fontSize: strong ? 15 : 13 }}>{value}</span>
  ) : value < 0 ? (
    <span className="quiet" title={`Not found within the first ${-value}`}>{`>${-value}`}</span>
  ) : (
    <span className="unknown" title="Never checked">
      –
    </span>
  )
const n = (row: Row, key: string): number => Number(row[key] ?? 0)
/** The last known place, with its age in days where it is not of the last day. */
function Position({ row }: { row: Row }) {
  const age = n(row, 'age')
  if (!age) return positionCell(n(row, 'nowValue'), true)
  return (
    <span title={`Last checked ${plural(age, 'day')} before the last day`}>
      <span className="quiet" style={{ fontSize: 11, marginRight: 6 }}>
        {formatWhole(age)} d
      </span>
      {positionCell(n(row, 'nowValue'))}
    </span>
  )
}
const upper = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1)

const sinceOf = (row: Row): string => (row.since ? `Since ${formatDay(String(row.since))}` : '')

function ChangeWords({ row }: { row: Row }) {
  const kind = String(row.change)
  if (kind === 'up')
    return (
      <span className="kept-row" style={{ fontWeight: 540 }} title={sinceOf(row)}>
        up {n(row, 'gained')}
      </span>
    )
  if (kind === 'down')
    return (
      <span className="fall" style={{ fontWeight: 540 }} title={sinceOf(row)}>
        down {-n(row, 'gained')}
      </span>
    )
  if (kind === 'new')
    return (
      <span className="kept-row" style={{ fontWeight: 540 }}>
        new
      </span>
    )
  if (kind === 'out')
    return (
      <span className="fall" style={{ fontWeight: 540 }}>
        out
      </span>
    )
  return kind === 'unknown' ? (
    <span className="unknown" title="Not checked so long before its last check">
      unknown
    </span>
  ) : (
    <span className="quiet">same</span>
  )
}

const featureValues = [
  ...pageFeatures.map(value => ({ value, label: pageFeatureNames[value] })),
  { value: 'nothing', label: 'nothing' },
]
function Features({ of }: { of: Row[string] | undefined }) {
  if (of == null) return <span className="unknown">unknown</span>
  const names = String(of)
    .split('|')
    .map(each => pageFeatureNames[each as PageFeature] ?? each)
  return <span className={of === 'nothing' ? 'quiet' : ''}>{names.join(', ')}</span>
}

/** What tells another market from the one that is looked at. */
const nameOf = (other: Market, market: Market): string =>
  other.place !== market.place
    ? `${upper(other.engine)} ${other.place} ${other.device}`
    : other.engine === market.engine
      ? upper(other.device)
      : other.device === market.device
        ? upper(other.engine)
        : `${upper(other.engine)} ${other.device}`

function Gained({ value, show }: { value: number | null; show(value: number): string }) {
  if (value === null) return <span className="unknown">unknown</span>
  return value === 0 ? (
    <span className="quiet">same</span>
  ) : (
    <span className={value > 0 ? 'kept-row' : 'fall'}>
      {value > 0 ? 'up' : 'down'} {show(Math.abs(value))}
    </span>
  )
}
/** As wide as its name needs, up to where a long one is cut. */
const widthOf = (label: string): number => Math.min(240, Math.max(96, 28 + label.length * 6.4))
const changeColumn = (key: string, label: string, of: string): SheetColumn => ({
  key: `${key}Gained`,
  label,
  width: widthOf(label),
  kind: 'number',
  explain: `Places gained (up) or lost (down) in ${of}`,
  hidden: true,
  render: row => <Gained value={row[`${key}Gained`] as number | null} show={formatWhole} />,
})

export function trackColumns(market: Market, markets: Market[], rivals: readonly string[]): SheetColumn[] {
  const others = markets.filter(other => other.id !== market.id && other.language === market.language)
  return [
    {
      ...trackTable.phrase,
      width: 210,
      fixed: true,
      render: row => (
        <span className="keyword-name" title={String(row.phrase)}>
          {String(row.phrase)}
        </span>
      ),
    },
    {
      ...trackTable.theme,
      width: 150,
      hidden: true,
      render: row =>
        row.theme === null ? (
          <span className="unknown">none</span>
        ) : (
          <span title={String(row.theme)}>{String(row.theme)}</span>
        ),
    },
    {
      ...trackTable.now,
      width: 84,
      align: 'right',
      render: row => <Position row={row} />,
    },
    {
      ...trackTable.before,
      width: 66,
      align: 'right',
      hidden: true,
      render: row => positionCell(n(row, 'beforeValue')),
    },
    {
      ...trackTable.gained,
      width: 78,
      render: row => <ChangeWords row={row} />,
    },
    {
      ...trackTable.change,
      width: 90,
      values: Object.entries(changeLabels).map(([value, label]) => ({ value, label })),
      conditionOnly: true,
      render: row => String(row.change),
    },
    {
      ...trackTable.nowValue,
      width: 168,
      render: row => <RangeTrack before={n(row, 'beforeValue')} now={n(row, 'nowValue')} />,
    },
    {
      ...trackTable.recent,
      width: 106,
      render: row => <PositionLine positions={(row.recent as number[] | null) ?? []} />,
    },
    {
      ...trackTable.best,
      width: 60,
      align: 'right',
      hidden: true,
      render: row => positionCell(n(row, 'best')),
    },
    {
      ...trackTable.searches,
      width: 90,
      align: 'right',
      render: row =>
        row.searches === null ? (
          <span className="unknown" title="The ads data has not been asked for this keyword, or has nothing">
            unknown
          </span>
        ) : (
          <Counted value={Number(row.searches)} hidden={row.hidden === true} />
        ),
    },
    {
      ...trackTable.visits,
      width: 104,
      align: 'right',
      render: row =>
        row.visits === null ? (
          <span className="unknown">unknown</span>
        ) : (
          <Counted value={Number(row.visits)} hidden={row.hidden === true} />
        ),
    },
    {
      ...trackTable.anywhere,
      width: 92,
      align: 'right',
      hidden: true,
      render: row => positionCell(n(row, 'anywhere')),
    },
    {
      ...trackTable.visible,
      width: 84,
      align: 'right',
      hidden: true,
      render: row => (row.visible === null ? <span className="unknown">unknown</span> : formatOne(Number(row.visible))),
    },
    {
      ...trackTable.visibleGained,
      width: 88,
      align: 'right',
      hidden: true,
      render: row => <Gained value={row.visibleGained as number | null} show={formatOne} />,
    },
    ...others.flatMap((other): SheetColumn[] => [
      {
        key: columnOf(other),
        label: nameOf(other, market),
        width: other.engine !== market.engine && other.device !== market.device ? 118 : 74,
        align: 'right',
        kind: 'number',
        explain: `Place in ${upper(other.engine)}, ${other.device}`,
        hidden: other.engine !== market.engine && other.device !== market.device,
        render: row => positionCell(n(row, `${columnOf(other)}Value`)),
      },
      changeColumn(columnOf(other), `${nameOf(other, market)} change`, `${upper(other.engine)}, ${other.device}`),
    ]),
    ...rivals.flatMap((domain): SheetColumn[] => [
      {
        key: rivalColumnOf(domain),
        label: domain,
        width: widthOf(domain),
        align: 'right',
        kind: 'number',
        explain: `Place of ${domain} on the latest results of this market`,
        hidden: true,
        render: row => positionCell(n(row, `${rivalColumnOf(domain)}Value`)),
      },
      changeColumn(rivalColumnOf(domain), `${domain} change`, `${domain}, since the results before`),
    ]),
    {
      ...trackTable.page,
      width: 180,
      render: row =>
        row.page ? (
          <a
            className="link"
            href={String(row.page)}
            target="_blank"
            rel="noreferrer"
            title={String(row.page)}
            style={{ fontWeight: 400, overflow: 'hidden', textOverflow: 'ellipsis', display: 'block' }}
            tabIndex={-1}
          >
            {String(row.page).replace(/^https?:\/\/[^/]+/, '')}
          </a>
        ) : (
          ''
        ),
    },
    {
      ...trackTable.shown,
      width: 160,
      hidden: true,
      isSet: true,
      values: featureValues,
      render: row => <Features of={row.shown} />,
    },
    {
      ...trackTable.held,
      width: 120,
      hidden: true,
      isSet: true,
      values: featureValues,
      render: row => <Features of={row.held} />,
    },
    {
      ...trackTable.labels,
      width: 140,
      hidden: true,
      isSet: true,
      render: row =>
        String(row.labels ?? '')
          .split('|')
          .join(', '),
    },
    {
      ...trackTable.trackedSince,
      width: 110,
      hidden: true,
      render: row => formatDay(String(row.trackedSince)),
    },
    {
      ...trackTable.planned,
      width: 170,
      hidden: true,
      render: row => String(row.planned ?? '').replace(/^https?:\/\/[^/]+/, ''),
    },
    {
      ...trackTable.note,
      width: 122,
      values: ['wrong page', 'page changed', 'entered top 10', 'left top 10', 'left top 30'].map(value => ({
        value,
        label: value,
      })),
      render: row => <span className="quiet">{String(row.note ?? '')}</span>,
    },
  ]
}
