import type { Explanation } from '@dew-trail/core/tables/explanation'
import type { ReactNode } from 'react'
import type { Row } from '../rows/row-source.ts'

/** A column of the sheet. `values` lists what a code column can hold, for conditions. `explain` says in the header what the figure is. */
export type SheetColumn = {
  key: string
  label: string
  width: number
  align?: 'right'
  kind: 'text' | 'number' | 'code' | 'flag' | 'series'
  explain: string
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
  /** What a file has in its place where its cells show more than its own value, such as both ends of a range. */
  exports?: Array<{ key: string; label: string }>
  hidden?: boolean
  fixed?: boolean
}
