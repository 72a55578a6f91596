import type { Condition } from '@dew-trail/core/tables/column-spec'
import { dayOfValue } from '@dew-trail/core/tables/row-tests'
import { formatDay, formatLimit } from '../ui/format.ts'
import type { SheetColumn } from './columns.ts'
import { isDay } from './fresh-condition.ts'

/** A condition in words: what is said plainly, and what is told with weight. */
export function conditionWords(condition: Condition, column: SheetColumn): [plain: string, strong: string] {
  const name = column.label
  const named = (values: readonly string[], between: string): string =>
    values.map(value => column.values?.find(each => each.value === value)?.label ?? value).join(between) || '…'
  switch (condition.op) {
    case 'from':
      return isDay(column)
        ? [`${name} on or after `, formatDay(dayOfValue(condition.value))]
        : [`${name} ≥ `, formatLimit(condition.value)]
    case 'to':
      return isDay(column)
        ? [`${name} until `, formatDay(dayOfValue(condition.value))]
        : [`${name} ≤ `, formatLimit(condition.value)]
    case 'within':
      return [
        `${name} up to `,
        column.limits?.find(each => each.value === condition.value)?.label ?? String(condition.value),
      ]
    case 'has':
      return [column.kind === 'text' ? 'Contains ' : `${name} contains `, condition.value || '…']
    case 'without':
      return [column.kind === 'text' ? 'Without ' : `${name} without `, condition.value || '…']
    case 'is':
    case 'any':
      return [`${name} `, named(condition.value, ' or ')]
    case 'not':
      return [`${name} not `, named(condition.value, ', ')]
    case 'known':
      return [`${name} `, 'known']
    case 'unknown':
      return [`${name} `, 'unknown']
    case 'yes':
      return ['', name]
    case 'no':
      return ['not ', name]
  }
}

/** All conditions in one line; those of columns that are not there are left out. */
export const conditionsLine = (where: readonly Condition[], columns: readonly SheetColumn[]): string =>
  where
    .flatMap(condition => {
      const column = columns.find(each => each.key === condition.column)
      return column ? [conditionWords(condition, column).join('')] : []
    })
    .join('; ')
