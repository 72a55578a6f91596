import type { Condition, Sort } from './column-spec.ts'
import { readText, type TextPart, wholeWords } from './text-parts.ts'

/** A cell of a row: null = unknown; of codes '' too. */
export type Cell = number | string | boolean | null
/** The cell of a column in the row with a number. */
export type ReadsCell = (row: number) => Cell

/**
 * What tells whether a row meets a condition, of rows that are not held in a column store, with the same outcome as there (`maskRows`). Throws
 * TypeError for a limit by name, which is to be put in numbers before.
 */
export function rowTest(condition: Condition, read: ReadsCell): (row: number) => boolean {
  switch (condition.op) {
    case 'from':
    case 'to': {
      const { value: limit, op } = condition
      return row => {
        const cell = read(row)
        const value = typeof cell === 'string' ? dayValue(cell) : cell
        return typeof value === 'number' && (op === 'from' ? value >= limit : value <= limit)
      }
    }
    case 'is':
    case 'not': {
      const wanted = new Set(condition.value)
      const keep = condition.op === 'is'
      return row => wanted.has(String(read(row) ?? '')) === keep
    }
    case 'any': {
      const wanted = new Set(condition.value)
      return row =>
        String(read(row) ?? '')
          .split('|')
          .some(member => wanted.has(member))
    }
    case 'known':
      return row => isKnown(read(row))
    case 'unknown':
      return row => !isKnown(read(row))
    case 'yes':
      return row => read(row) === true
    case 'no':
      return row => read(row) !== true
    case 'has':
    case 'without': {
      const test = textTest(condition.value, condition.op === 'without')
      return row => test(String(read(row) ?? ''))
    }
    case 'within':
      throw new TypeError(`the limit "${condition.value}" was not put in numbers`)
  }
}
/** A day (YYYY-MM-DD) as a number that is larger for later ones, such as 20260501; null where it is none. */
export const dayValue = (day: string): number | null =>
  /^\d{4}-\d\d-\d\d/.test(day) ? Number(day.slice(0, 10).replaceAll('-', '')) : null
/** The day of such a number. */
export const dayOfValue = (value: number): string => String(value).replace(/^(\d{4})(\d\d)(\d\d)$/, '$1-$2-$3')

const isKnown = (value: Cell): boolean => value !== null && value !== '' && !Number.isNaN(value)

/** Whether a text has (or, left out, has no part of) what was typed, as `maskRows` tells it of the texts of a column. */
export function textTest(typed: string, leaveOut = false): (text: string) => boolean {
  const alternatives = readText(typed).map(parts => parts.map(partTest))
  if (!alternatives.length) return () => true
  if (leaveOut) return text => !alternatives.flat().some(test => test(text))
  return text => alternatives.some(parts => parts.every(test => test(text)))
}
function partTest({ kind, text }: TextPart): (text: string) => boolean {
  if (kind === 'part') return whole => whole.toLowerCase().includes(text)
  const pattern = wholeWords(text)
  return whole => pattern.test(whole.toLowerCase())
}

/**
 * Rows in order of several columns, ties in the order given; unknown comes last whichever way a column runs. Numbers and flags by value, texts
 * by their code units. O(rows log rows).
 */
export function orderedRows(
  rows: readonly number[],
  sort: readonly Sort[],
  readers: Readonly<Record<string, ReadsCell>>,
): number[] {
  if (!sort.length) return [...rows]
  const keys = sort.map(({ column, down }) => ({ down, values: rows.map(row => readers[column]!(row)) }))
  return rows
    .map((_, at) => at)
    .sort((a, b) => {
      for (const { values, down } of keys) {
        const difference = compareCells(values[a]!, values[b]!, down)
        if (difference) return difference
      }
      return a - b
    })
    .map(at => rows[at]!)
}
function compareCells(a: Cell, b: Cell, down: boolean): number {
  const known = Number(isKnown(b)) - Number(isKnown(a))
  if (known || !isKnown(a)) return known
  const [x, y] = [a as number | string, b as number | string]
  return (x < y ? -1 : x > y ? 1 : 0) * (down ? -1 : 1)
}
