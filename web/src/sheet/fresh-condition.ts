import type { Condition } from '@dew-trail/core/tables/column-spec'
import type { SheetColumn } from './columns.ts'

/** Whether a condition is begun and nothing is given yet, so that it must not filter. */
export const isBlank = (condition: Condition): boolean =>
  'value' in condition &&
  (condition.value === '' ||
    Number.isNaN(condition.value) ||
    (Array.isArray(condition.value) && !condition.value.length))

/** A condition on a column as it begins, with the comparison that is asked for where the column has it. */
export function freshCondition(column: SheetColumn, op?: string): Condition {
  switch (column.kind) {
    case 'text':
      return { column: column.key, op: op === 'without' ? 'without' : 'has', value: '' }
    case 'code':
      return op === 'unknown'
        ? { column: column.key, op }
        : { column: column.key, op: op === 'not' ? 'not' : column.isSet ? 'any' : 'is', value: [] }
    case 'flag':
      return { column: column.key, op: op === 'no' ? 'no' : 'yes' }
    default:
      return op === 'unknown' || op === 'known'
        ? { column: column.key, op }
        : { column: column.key, op: op === 'to' ? 'to' : 'from', value: Number.NaN }
  }
}
