import type { Batch, ColumnSpec } from '@dew-trail/core/tables/column-spec'
import type { OnceBy } from '@dew-trail/core/tables/once-by'
import { useEffect, useState } from 'react'
import { WorkerSource } from '../rows/worker-source.ts'

/** A worker source for rows that came with an answer; a new answer takes the place of the old rows. Other `specs` make another source. */
export function useRowsInWorker(
  specs: readonly ColumnSpec[],
  batch: Batch | null,
  onceBy: OnceBy | null = null,
): WorkerSource | null {
  const [made, setMade] = useState<{ source: WorkerSource; specs: readonly ColumnSpec[] } | null>(null)
  useEffect(() => {
    const source = new WorkerSource(specs, undefined, { onceBy })
    setMade({ source, specs })
    return () => source.close()
  }, [specs, onceBy])
  // Rows of other columns than a source was made for would not fit it.
  const source = made?.specs === specs ? made.source : null
  useEffect(() => {
    if (source && batch) source.put(batch)
  }, [source, batch])
  return source
}
