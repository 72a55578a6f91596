import type { Market } from '@dew-trail/contract/sites'
import type { TrackedRow } from '@dew-trail/contract/track'
import { positionChange } from '@dew-trail/core/positions/position-change'
import type { Batch, ColumnSpec } from '@dew-trail/core/tables/column-spec'
import { PlaceLine } from '../../pictures/PlaceLine.tsx'
import { RangeTrack } from '../../pictures/RangeTrack.tsx'
import { formatDay, formatWhole, plural } from '../../ui/format.ts'
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
const columnOf = (market: Market): string => `market${market.id}`

export function trackSpecs(markets: Market[]): ColumnSpec[] {
  return [
    { key: 'phrase', kind: 'text' },
    { key: 'now', kind: 'number' },
    { key: 'nowValue', kind: 'number' },
    { key: 'age', kind: 'number' },
    { key: 'since', kind: 'code' },
    { key: 'beforeValue', kind: 'number' },
    { key: 'change', kind: 'code' },
    { key: 'gained', kind: 'number' },
    { key: 'best', kind: 'number' },
    { key: 'recent', kind: 'series', length: 30 },
    { key: 'searches', kind: 'number' },
    { key: 'visits', kind: 'number' },
    ...markets.map(market => ({ key: columnOf(market), kind: 'number' as const })),
    ...markets.map(market => ({ key: `${columnOf(market)}Value`, kind: 'number' as const })),
    { key: 'page', kind: 'code' },
    { key: 'note', kind: 'code' },
  ]
}

/** Places as numbers for sorting and conditions, not found as unknown; the raw day-vector values beside them for drawing. */
export function trackBatch(rows: TrackedRow[], markets: Market[], lastDay: string | null): Batch {
  const place = (value: number): number | null => (value > 0 ? value : null)
  const changes = rows.map(row => positionChange(row.before, row.now))
  return {
    ids: rows.map(row => row.id),
    columns: {
      phrase: rows.map(row => row.phrase),
      now: rows.map(row => place(row.now)),
      nowValue: rows.map(row => row.now),
      age: rows.map(row => (row.nowDay && lastDay ? daysBetween(row.nowDay, lastDay) : null)),
      since: rows.map(row => row.beforeDay),
      beforeValue: rows.map(row => row.before),
      change: changes.map(change => change.kind),
      gained: changes.map(change =>
        change.kind === 'up'
          ? change.places
          : change.kind === 'down'
            ? -change.places
            : change.kind === 'same'
              ? 0
              : change.kind === 'new'
                ? change.outside + 1 - change.to
                : change.kind === 'out'
                  ? change.from - change.outside - 1
                  : null,
      ),
      best: rows.map(row => row.best),
      recent: rows.map(row => row.recent),
      searches: rows.map(row => row.searches),
      visits: rows.map(row => row.visits),
      ...Object.fromEntries(
        markets.flatMap(market => [
          [columnOf(market), rows.map(row => place(row.other[String(market.id)] ?? 0))],
          [`${columnOf(market)}Value`, rows.map(row => row.other[String(market.id)] ?? 0)],
        ]),
      ),
      page: rows.map(row => row.page),
      note: rows.map(noteOf),
    },
  }
}

const daysBetween = (from: string, to: string): number => Math.round((Date.parse(to) - Date.parse(from)) / 86_400_000)

/** What stands out about a row, in a few words. */
function noteOf(row: TrackedRow): string | null {
  const { now, before } = row
  if (now > 0 && before > 0 && row.pageBefore && row.page && row.pageBefore !== row.page) return 'page changed'
  if (now > 0 && now <= 10 && (before < 0 || before > 10)) return 'entered top 10'
  if (before > 0 && before <= 10 && (now < 0 || now > 10)) return 'left top 10'
  if (before > 0 && before <= 30 && (now < 0 || now > 30)) return 'left top 30'
  return null
}

const placeCell = (value: number, strong = false) =>
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
function Place({ row }: { row: Row }) {
  const age = n(row, 'age')
  if (!age) return placeCell(n(row, 'nowValue'), true)
  return (
    <span title={`Last checked ${plural(age, 'day')} before the last day`}>
      <span className="quiet" style={{ fontSize: 11, marginRight: 6 }}>
        {formatWhole(age)} d
      </span>
      {placeCell(n(row, 'nowValue'))}
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

export function trackColumns(market: Market, markets: Market[]): SheetColumn[] {
  const others = markets.filter(other => other.id !== market.id && other.language === market.language)
  return [
    {
      key: 'phrase',
      label: 'Keyword',
      width: 210,
      kind: 'text',
      explain: 'The keyword that is watched',
      fixed: true,
      render: row => (
        <span className="keyword-name" title={String(row.phrase)}>
          {String(row.phrase)}
        </span>
      ),
    },
    {
      key: 'now',
      label: 'Now',
      width: 84,
      align: 'right',
      kind: 'number',
      explain:
        'Place of your best page at the last check of this keyword; how many days before the last day that was, where it was not on it',
      exports: [
        { key: 'now', label: 'Now' },
        { key: 'age', label: 'Days before the last day' },
      ],
      render: row => <Place row={row} />,
    },
    {
      key: 'gained',
      label: 'Change',
      width: 78,
      kind: 'number',
      explain: 'Places gained (up) or lost (down) since the day compared with',
      render: row => <ChangeWords row={row} />,
    },
    {
      key: 'change',
      label: 'Movement',
      width: 90,
      kind: 'code',
      explain: 'What happened since the day compared with',
      values: Object.entries(changeLabels).map(([value, label]) => ({ value, label })),
      conditionOnly: true,
      render: row => String(row.change),
    },
    {
      key: 'nowValue',
      label: '1 · 3 · 10 · 30 · 100',
      width: 168,
      kind: 'series',
      explain: 'From the hollow dot (before) to the filled one (now); left is better',
      render: row => <RangeTrack before={n(row, 'beforeValue')} now={n(row, 'nowValue')} />,
    },
    {
      key: 'recent',
      label: '30 days',
      width: 106,
      kind: 'series',
      explain: 'Places over the last 30 days, up is better',
      render: row => <PlaceLine places={(row.recent as number[] | null) ?? []} />,
    },
    {
      key: 'best',
      label: 'Best',
      width: 60,
      align: 'right',
      kind: 'number',
      explain: 'Best place of the last 30 days',
      hidden: true,
      render: row => placeCell(n(row, 'best')),
    },
    {
      key: 'searches',
      label: 'Searches',
      width: 90,
      align: 'right',
      kind: 'number',
      explain: 'Searches a month, from the ads data',
      render: row =>
        row.searches === null ? (
          <span className="unknown" title="The ads data has not been asked for this keyword, or has nothing">
            unknown
          </span>
        ) : (
          formatWhole(Number(row.searches))
        ),
    },
    {
      key: 'visits',
      label: 'Visits now',
      width: 88,
      align: 'right',
      kind: 'number',
      explain:
        'Visits a month that this place brings: searches × share of clicks there, by the same click curve as everywhere',
      render: row => (row.visits === null ? <span className="unknown">unknown</span> : formatWhole(Number(row.visits))),
    },
    ...others.map(
      (other): SheetColumn => ({
        key: columnOf(other),
        label:
          other.engine === market.engine
            ? upper(other.device)
            : other.device === market.device
              ? upper(other.engine)
              : `${upper(other.engine)} ${other.device}`,
        width: other.engine !== market.engine && other.device !== market.device ? 118 : 74,
        align: 'right',
        kind: 'number',
        explain: `Place in ${upper(other.engine)}, ${other.device}`,
        hidden: other.engine !== market.engine && other.device !== market.device,
        render: row => placeCell(n(row, `${columnOf(other)}Value`)),
      }),
    ),
    {
      key: 'page',
      label: 'Page found',
      width: 180,
      kind: 'code',
      explain: 'The page of yours that was found',
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
      key: 'note',
      label: 'Note',
      width: 122,
      kind: 'code',
      explain: 'What stands out',
      values: ['page changed', 'entered top 10', 'left top 10', 'left top 30'].map(value => ({ value, label: value })),
      render: row => <span className="quiet">{String(row.note ?? '')}</span>,
    },
  ]
}
