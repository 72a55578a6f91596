import {
  doubtfulTable,
  placePointTable,
  placeSumTable,
  pointStates,
  strongholdTable,
} from '@dew-trail/contract/place-tables'
import { directions } from '@dew-trail/core/places/rank-figures'
import { metresText } from '@dew-trail/core/places/rank-sentence'
import type { Row } from '../../rows/row-source.ts'
import type { SheetColumn } from '../../sheet/columns.ts'
import { formatDay, formatOne, formatShare, formatWhole } from '../../ui/format.ts'

const right = { align: 'right' as const }
const unknown = (why: string) => (
  <span className="unknown" title={why}>
    unknown
  </span>
)
const text = (key: string) => (row: Row) => (
  <span className="cut" style={{ display: 'block', maxWidth: 'none' }} title={String(row[key] ?? '')}>
    {String(row[key] ?? '')}
  </span>
)
const known = (key: string, why: string, show: (value: unknown) => string) => (row: Row) =>
  row[key] === null ? unknown(why) : show(row[key])
const whole = (key: string, why: string) => known(key, why, value => formatWhole(Number(value)))
const one = (key: string, why: string) => known(key, why, value => formatOne(Number(value)))
const metres = (key: string) => known(key, 'Where it stands is not known', value => metresText(Number(value)))
const share = (key: string) => (row: Row) => formatShare(Number(row[key]))
const change = (key: string, why: string) => (row: Row) => {
  const value = row[key]
  if (value === null)
    return (
      <span className="unknown" title={why}>
        –
      </span>
    )
  const by = Number(value)
  if (Math.abs(by) < 0.05) return <span className="quiet">as before</span>
  return by > 0 ? `up ${formatOne(by)}` : <span className="fall">down {formatOne(-by)}</span>
}
const yes = (key: string, words: string) => (row: Row) => (row[key] ? <span className="own">{words}</span> : '')
const listOf = (values: readonly string[]) => values.map(value => ({ value, label: value }))
/** A column of unknown where a point was not found, which is no figure. */
const position = (key: 'position' | 'before', depth: number) => (row: Row) => {
  if (row[key] !== null) return formatWhole(Number(row[key]))
  return key === 'before' || row.state !== 'not found' ? (
    <span className="unknown">{key === 'before' ? '–' : String(row.state)}</span>
  ) : (
    `${depth}+`
  )
}

export const pointColumns = (depth: number): SheetColumn[] => [
  { ...placePointTable.point, width: 130, fixed: true, render: text('point') },
  { ...placePointTable.position, ...right, width: 96, render: position('position', depth) },
  { ...placePointTable.before, ...right, width: 76, render: position('before', depth) },
  { ...placePointTable.change, ...right, width: 96, render: change('change', 'Not checked in both runs') },
  { ...placePointTable.distance, ...right, width: 84, render: metres('distance') },
  { ...placePointTable.direction, width: 96, values: listOf(directions), render: text('direction') },
  { ...placePointTable.first, width: 200, render: text('first') },
  { ...placePointTable.second, width: 180, render: text('second') },
  { ...placePointTable.third, width: 180, render: text('third') },
  { ...placePointTable.state, width: 100, hidden: true, values: listOf(pointStates), render: text('state') },
  { ...placePointTable.latitude, ...right, width: 96, hidden: true, render: row => Number(row.latitude).toFixed(5) },
  { ...placePointTable.longitude, ...right, width: 96, hidden: true, render: row => Number(row.longitude).toFixed(5) },
]
export const sumColumns: SheetColumn[] = [
  { ...placeSumTable.keyword, width: 200, fixed: true, render: text('keyword') },
  { ...placeSumTable.business, width: 240, render: text('business') },
  { ...placeSumTable.own, width: 60, render: yes('own', 'yours') },
  { ...placeSumTable.day, width: 110, render: row => formatDay(String(row.day)) },
  { ...placeSumTable.mean, ...right, width: 110, render: one('mean', '') },
  { ...placeSumTable.change, ...right, width: 96, render: change('change', 'No run before') },
  { ...placeSumTable.first3, ...right, width: 84, render: share('first3') },
  { ...placeSumTable.found, ...right, width: 76, render: share('found') },
  { ...placeSumTable.checked, ...right, width: 76, render: whole('checked', '') },
]
export const strongholdColumns: SheetColumn[] = [
  { ...strongholdTable.business, width: 260, fixed: true, render: text('business') },
  {
    ...strongholdTable.who,
    width: 76,
    values: listOf(['own', 'rival', 'other']),
    render: row => (row.who === 'own' ? <span className="own">yours</span> : row.who === 'rival' ? 'rival' : ''),
  },
  { ...strongholdTable.leads, ...right, width: 76, render: whole('leads', '') },
  { ...strongholdTable.reach, ...right, width: 120, render: row => (Number(row.leads) ? metres('reach')(row) : '') },
  { ...strongholdTable.first3, ...right, width: 84, render: whole('first3', '') },
  { ...strongholdTable.mean, ...right, width: 110, render: one('mean', '') },
  {
    ...strongholdTable.doubtful,
    width: 84,
    render: row => (row.doubtful ? <span className="fall">doubtful</span> : ''),
  },
  { ...strongholdTable.category, width: 120, render: text('category') },
  { ...strongholdTable.rating, ...right, width: 76, render: one('rating', 'The source does not tell it') },
  { ...strongholdTable.reviews, ...right, width: 84, render: whole('reviews', 'The source does not tell it') },
  { ...strongholdTable.url, width: 200, hidden: true, render: text('url') },
]
const quiet = 'The source does not tell it'
export const doubtfulColumns: SheetColumn[] = [
  { ...doubtfulTable.name, width: 260, fixed: true, render: text('name') },
  { ...doubtfulTable.reasons, width: 460, render: text('reasons') },
  { ...doubtfulTable.weight, ...right, width: 76, render: one('weight', '') },
  { ...doubtfulTable.category, width: 110, render: text('category') },
  { ...doubtfulTable.street, width: 150, render: known('street', quiet, String) },
  { ...doubtfulTable.phone, width: 120, render: known('phone', quiet, String) },
  { ...doubtfulTable.url, width: 160, hidden: true, render: text('url') },
  {
    ...doubtfulTable.openedOn,
    width: 110,
    hidden: true,
    render: known('openedOn', quiet, value => formatDay(String(value))),
  },
  { ...doubtfulTable.reviews, ...right, width: 84, hidden: true, render: whole('reviews', quiet) },
  { ...doubtfulTable.photos, ...right, width: 84, hidden: true, render: whole('photos', quiet) },
  { ...doubtfulTable.own, width: 60, hidden: true, render: yes('own', 'yours') },
  { ...doubtfulTable.source, width: 84, hidden: true, render: text('source') },
]
