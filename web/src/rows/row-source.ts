import type { CellValue, Condition, Sort } from '@dew-trail/core/tables/column-spec'
import type { ColumnSum } from '@dew-trail/core/tables/sum-rows'

export type Row = Record<string, CellValue> & { id: number }
/** `fold`: rows of one group stand under the one with the largest `face`; `open` holds ids of faces whose members are shown. */
export type Fold = { by: string; face: string; open: number[] }
export type SourceQuery = { where: Condition[]; sort: Sort[]; fold?: Fold | undefined }
export const exportFormats = ['csv', 'tsv', 'xlsx', 'json', 'jsonl'] as const
export type ExportColumn = { key: string; label: string }
export type ExportFormat = (typeof exportFormats)[number]

/** Where a sheet gets its rows: a worker or a server behind one shape. `version` goes up whenever what it gives may differ. */
export type RowSource = {
  readonly count: number
  readonly total: number
  readonly version: number
  readonly state: 'loading' | 'ready' | 'failed'
  readonly error: string | null
  readonly pending: boolean
  getRow(index: number): Row | undefined
  /** Place in the list of a row that is here; undefined of others, which `indexesOf` knows. */
  indexOf(id: number): number | undefined
  requestRange(from: number, to: number): void
  setQuery(query: SourceQuery): void
  subscribe(listener: () => void): () => void
  /** Changes when the list does: other rows, another order. Scrolling leaves it. */
  readonly listVersion: string
  /** Places in the list of those of these rows that are in it. */
  indexesOf(ids: number[]): Promise<Array<{ id: number; index: number }>>
}

/** What a source that holds all rows can tell beyond single rows. */
export type WholeSource = RowSource & {
  sums(columns: string[], ids?: number[]): Promise<{ rows: number; sums: Record<string, ColumnSum> }>
  words(most: number): Promise<Array<{ word: string; rows: number }>>
  codes(column: string, leaveOut?: string[]): Promise<Record<string, number>>
  ids(): Promise<number[]>
  rows(ids?: number[]): Promise<Row[]>
  /** `title`: of the sheet in a workbook. */
  exportFile(columns: ExportColumn[], format: ExportFormat, title: string, ids?: number[]): Promise<Blob>
}
