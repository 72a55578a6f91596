import type { TableColumn } from '@dew-trail/core/tables/table-column'
import type { Explanation } from '@dew-trail/core/tables/explanation'
import type { ReactNode } from 'react'
import type { Row } from '../rows/row-source.ts'

/** A column of the sheet: what the browser adds to a table's column. `values` lists what a code column can hold, for conditions. */
export type SheetColumn = TableColumn & {
  width: number
  align?: 'right'
  render(row: Row): ReactNode
  /** How this row's figure comes about. */
  why?(row: Row): Explanation
  values?: Array<{ value: string; label: string }>
  /** A code column whose values are sets: a condition asks whether the set has one of the values. */
  isSet?: boolean
  /** Limits of the site's own that a condition can name. */
  limits?: Array<{ value: string; label: string }>
  /** Not offered as a column of its own, only as a condition. */
  conditionOnly?: boolean
  hidden?: boolean
  fixed?: boolean
}
