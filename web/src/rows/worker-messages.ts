import type { Batch, ColumnSpec, Condition } from '@dew-trail/core/tables/column-spec'
import type { OnceBy } from '@dew-trail/core/tables/once-by'
import type { ExportColumn, ExportFormat, Row, SourceQuery } from './row-source.ts'

/** What a sheet's worker is told. `ask` messages are answered by a `reply` with the same number. */
export type ToWorker =
  | { type: 'open'; specs: ColumnSpec[]; always: Condition[]; onceBy: OnceBy | null }
  | { type: 'load'; url: string }
  | { type: 'put'; batch: Batch; clear: boolean }
  | { type: 'query'; sequence: number; query: SourceQuery; from: number; to: number }
  | { type: 'window'; from: number; to: number }
  | { type: 'ask'; number: number; what: Question }
export type Question =
  | { kind: 'sums'; columns: string[]; ids?: number[] }
  | { kind: 'words'; most: number }
  | { kind: 'codes'; column: string; leaveOut: string[] }
  | { kind: 'ids' }
  | { kind: 'indexes'; ids: number[] }
  | { kind: 'rows'; ids?: number[] }
  | { kind: 'export'; columns: ExportColumn[]; format: ExportFormat; title: string; ids?: number[] }

export type FromWorker =
  /** `listVersion` names the list: the same rows in the same order while it stays. */
  | { type: 'window'; sequence: number; listVersion: string; count: number; total: number; from: number; rows: Row[] }
  | { type: 'loaded'; revision: number | null; error: string | null }
  | { type: 'reply'; number: number; answer: unknown; error: string | null }
