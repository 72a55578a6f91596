import type { Condition } from '@dew-trail/core/tables/column-spec'
import type { SheetColumn } from './columns.ts'

/** Whether a condition is begun and nothing is given yet, so that it must not filter. */
export const isBlank = (condition: Condition): boolean =>
  'value' in condition &&
  (condition.value === '' ||
    Number.isNaN(condition.value) ||
    (Array.isArray(condition.value) && !condition.value.length))

export const isDay = (column: SheetColumn): boolean => column.kind === 'code' && column.unit === 'day'
const numberCondition = (column: string, op: string | undefined): Condition =>
  op === 'unknown' || op === 'known' ? { column, op } : { column, op: op === 'to' ? 'to' : 'from', value: Number.NaN }

/** Whether a column has so many different values that they are searched by their words and not chosen from a list. */
export const hasWords = (column: SheetColumn): boolean => column.kind === 'code' && !column.values?.length
function wordsCondition(column: string, op: string | undefined): Condition {
  return op === 'known' || op === 'unknown' ? { column, op } : { column, op: op === 'without' ? op : 'has', value: '' }
}

/** A condition on a column as it begins, with the comparison that is asked for where the column has it. */
export function freshCondition(column: SheetColumn, op?: string): Condition {
  switch (column.kind) {
    case 'text':
      return { column: column.key, op: op === 'without' ? 'without' : 'has', value: '' }
    case 'code':
      if (isDay(column)) return numberCondition(column.key, op)
      if (hasWords(column)) return wordsCondition(column.key, op)
      return op === 'unknown'
        ? { column: column.key, op }
        : { column: column.key, op: op === 'not' ? 'not' : column.isSet ? 'any' : 'is', value: [] }
    case 'flag':
      return { column: column.key, op: op === 'no' ? 'no' : 'yes' }
    default:
      return numberCondition(column.key, op)
  }
}
