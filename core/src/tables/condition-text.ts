import type { Condition, Sort } from './column-spec.ts'

/** Text forms of conditions and orders for addresses: "searches:from:100", "phrase:has:wheel", "kind:is:question|related", "-searches". */
export function conditionText(condition: Condition): string {
  const value =
    'value' in condition ? (Array.isArray(condition.value) ? condition.value.join('|') : String(condition.value)) : ''
  return value === '' ? `${condition.column}:${condition.op}` : `${condition.column}:${condition.op}:${value}`
}

/** Reads one condition; `null` when it is none, so that a mistyped address loses a condition rather than the page. */
export function readCondition(text: string): Condition | null {
  const [column, op, ...rest] = text.split(':')
  const value = rest.join(':')
  if (!column) return null
  switch (op) {
    case 'from':
    case 'to':
      return value !== '' && Number.isFinite(Number(value)) ? { column, op, value: Number(value) } : null
    case 'has':
    case 'within':
    case 'without':
      return { column, op, value }
    case 'is':
    case 'not':
    case 'any':
      return { column, op, value: value.split('|').filter(Boolean) }
    case 'known':
    case 'unknown':
    case 'yes':
    case 'no':
      return { column, op }
    default:
      return null
  }
}

export const sortText = (sort: readonly Sort[]): string =>
  sort.map(each => `${each.down ? '-' : ''}${each.column}`).join(',')
export const readSort = (text: string): Sort[] =>
  text
    .split(',')
    .filter(Boolean)
    .map(part => (part.startsWith('-') ? { column: part.slice(1), down: true } : { column: part, down: false }))
