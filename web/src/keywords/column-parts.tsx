import { freshDays } from '@dew-trail/contract/weigh'
import type { ReactNode } from 'react'
import { formatDay } from '../ui/format.ts'
import type { TableColumn } from '@dew-trail/core/tables/table-column'
import type { SheetColumn } from '../sheet/columns.ts'
import type { Row } from '../rows/row-source.ts'

/** A number of a row, `null` when unknown. */
export const n = (row: Row, key: string): number | null => row[key] as number | null
/** A text of a row, empty when unknown. */
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
  page: 'page words',
  rival: 'rival',
  ads: 'ads data',
  log: 'query log',
  import: 'import',
}
const demandWhy: Record<string, string> = {
  notAsked: 'Unknown: the ads data has not been asked for this keyword in this place. F asks.',
  nothing: 'Unknown: the ads data has nothing about this keyword, which is not zero. F asks again.',
  failed: 'Unknown: the ads data failed when it was asked. F asks again.',
}

/** A figure that is not known says so and why; it is never a zero. */
export const unknown = (why: string) => (
  <span className="unknown" title={why}>
    unknown
  </span>
)
export const demandUnknown = () => <span className="unknown">unknown</span>
export const notWeighed = (row: Row) =>
  s(row, 'weighState') === 'failed' ? (
    unknown('Unknown: the engine failed when this keyword was weighed; weigh it again (W)')
  ) : s(row, 'weighState') === 'nothing' ? (
    unknown('The engine showed no results')
  ) : (
    <span className="unknown" title="Not weighed yet: press W">
      –
    </span>
  )

/** A figure of a weighing, faded once that is old. */
export const aged = (row: Row, figure: ReactNode): ReactNode => {
  const on = s(row, 'weighedOn')
  if (!on || Date.parse(on) > Date.now() - (freshDays + 1) * 86_400_000) return figure
  return (
    <span className="aged" title={`Weighed on ${formatDay(on)}, more than ${freshDays} days ago: W weighs it again`}>
      {figure}
    </span>
  )
}

/** A figure the ads data gives as it is, or a file; `from`: the column that tells where it came from when the searches came from elsewhere. */
export const given =
  (
    figure: string,
    show: (row: Row) => string | null,
    formula: string,
    from?: 'cpcFrom' | 'competitionFrom',
  ): NonNullable<SheetColumn['why']> =>
  row => {
    const value = show(row)
    const [source, date] = (
      from && s(row, from) ? s(row, from) : `${s(row, 'demandSource')}|${s(row, 'demandDate')}`
    ).split('|')
    return {
      figure,
      value,
      formula,
      inputs: [],
      source: source === 'import' ? 'your file' : 'ads data',
      date: date || null,
      ...(value === null ? { note: demandWhy[s(row, 'demandState')] ?? 'The source gave no such figure.' } : {}),
    }
  }
export const codes = (labels: Record<string, string>) =>
  Object.entries(labels).map(([value, label]) => ({ value, label }))

export const number = (
  column: TableColumn,
  width: number,
  render: SheetColumn['render'],
  more: Partial<SheetColumn> = {},
): SheetColumn => ({ ...column, width, align: 'right', render, ...more })
