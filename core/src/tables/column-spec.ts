/**
 * Columns of a table. number: NaN = unknown. text: searched by its words. code: one of few values, '' = unknown. series: a fixed
 * count of numbers a row, NaN = unknown. flag: true or false. A code may name a set, its members joined by '|'; the condition
 * "any" asks whether the set has one of the values.
 */
export type ColumnSpec =
  | { key: string; kind: 'number' | 'text' | 'code' | 'flag' }
  | { key: string; kind: 'series'; length: number }
export type CellValue = number | string | boolean | null | ReadonlyArray<number | null>
/** Rows column by column, as they travel: `ids` plus one list a column; columns left out keep what they had. `null` = unknown. */
export type Batch = { ids: number[]; columns: Record<string, CellValue[]> }

export type Condition =
  | { column: string; op: 'from' | 'to'; value: number }
  | { column: string; op: 'has' | 'without'; value: string }
  | { column: string; op: 'is' | 'not' | 'any'; value: string[] }
  | { column: string; op: 'known' | 'unknown' }
  | { column: string; op: 'yes' | 'no' }
export type Sort = { column: string; down: boolean }
export type Query = { where: Condition[]; sort: Sort[] }
