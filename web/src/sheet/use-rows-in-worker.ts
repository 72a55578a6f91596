import type { Batch, ColumnSpec } from '@dew-trail/core/tables/column-spec'
import type { OnceBy } from '@dew-trail/core/tables/once-by'
import { useEffect, useState } from 'react'
import { WorkerSource } from '../rows/worker-source.ts'

/** A worker source for rows that came with an answer; a new answer takes the place of the old rows. `specs` and `onceBy` must not change. */
export function useRowsInWorker(
  specs: readonly ColumnSpec[],
  batch: Batch | null,
  onceBy: OnceBy | null = null,
): WorkerSource | null {
  const [source, setSource] = useState<WorkerSource | null>(null)
  useEffect(() => {
    const made = new WorkerSource(specs, undefined, { onceBy })
    setSource(made)
    return () => made.close()
  }, [specs, onceBy])
  useEffect(() => {
    if (source && batch) source.put(batch)
  }, [source, batch])
  return source
}
