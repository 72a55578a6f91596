import { familyOnce } from '@dew-trail/core/tables/once-by'
import { keywordColumns } from '@dew-trail/contract/gather'
import { type CellValue, type ColumnSpec, packBatch } from '@dew-trail/core/tables/column-spec'
import { vi } from 'vitest'
import { OwnThreadWorker } from './own-thread-worker.ts'
import { WorkerSource } from '../src/rows/worker-source.ts'

export type MadeKeyword = { id: number; phrase: string } & Partial<
  Record<(typeof keywordColumns)[number]['key'], CellValue>
>
const flags = new Set<string>(keywordColumns.filter(each => each.kind === 'flag').map(each => each.key))
const usual: Record<string, CellValue> = {
  intent: 'buy',
  intentShare: 0.6,
  kind: 'related',
  brand: 'none',
  demandState: 'known',
}

/** Keywords of a made-up site in a source like the real one; what is not given is unknown, and no flag is set. */
export function madeKeywords(rows: readonly MadeKeyword[]): WorkerSource {
  vi.stubGlobal('Worker', OwnThreadWorker)
  const source = new WorkerSource(keywordColumns as readonly ColumnSpec[], undefined, {
    always: [{ column: 'pruned', op: 'no' }],
    onceBy: familyOnce,
  })
  source.put(
    packBatch({
      ids: rows.map(row => row.id),
      columns: Object.fromEntries(
        keywordColumns.map(({ key }) => [
          key,
          rows.map(row => row[key] ?? usual[key] ?? (key === 'family' ? row.id : flags.has(key) ? false : null)),
        ]),
      ),
    }),
  )
  return source
}
