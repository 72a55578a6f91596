/**
 * Columns of a table. number: NaN = unknown. text: searched by its words. code: one of few values, '' = unknown. series: a fixed
 * count of numbers a row, NaN = unknown. flag: true or false. A code may name a set, its members joined by '|'; the condition
 * "any" asks whether the set has one of the values.
 */
export type ColumnSpec =
  | { key: string; kind: 'number' | 'text' | 'code' | 'flag' }
  | { key: string; kind: 'series'; length: number }
export type CellValue = number | string | boolean | null | ReadonlyArray<number | null>
/**
 * Rows column by column, as they travel: `ids` plus one list a column; `same` holds columns in which all rows have one value;
 * columns in neither keep what they had. `null` = unknown.
 */
export type Batch = { ids: number[]; columns: Record<string, CellValue[]>; same?: Record<string, CellValue> }

/** A batch with the columns of one value taken out of the lists: most of what is not known yet, so most of a fresh import. */
export function packBatch({ ids, columns }: Batch): Batch {
  const lists: Record<string, CellValue[]> = {}
  const same: Record<string, CellValue> = {}
  for (const [key, values] of Object.entries(columns)) {
    const first = values[0]!
    if (ids.length > 1 && !Array.isArray(first) && values.every(value => value === first)) same[key] = first
    else lists[key] = values
  }
  return { ids, columns: lists, same }
}

/** `from` and `to` go over numbers, and over codes that are days: the value is the day as a number then (`dayValue`). */
export type Condition =
  | { column: string; op: 'from' | 'to'; value: number }
  | { column: string; op: 'has' | 'without'; value: string }
  | { column: string; op: 'is' | 'not' | 'any'; value: string[] }
  | { column: string; op: 'known' | 'unknown' }
  | { column: string; op: 'yes' | 'no' }
  /** At most a limit that is not a fixed number but one of the site's own, by name; resolved before rows are asked for. */
  | { column: string; op: 'within'; value: string }
export type Sort = { column: string; down: boolean }
export type Query = { where: Condition[]; sort: Sort[] }

/**
 * Conditions with named limits put in numbers. A name whose limit is not known (`null`) lets nothing through: an unknown limit
 * is no licence to show everything.
 */
export const resolveLimits = (where: readonly Condition[], limits: Record<string, number | null>): Condition[] =>
  where.map(condition =>
    condition.op === 'within'
      ? { column: condition.column, op: 'to', value: limits[condition.value] ?? Number.NEGATIVE_INFINITY }
      : condition,
  )
