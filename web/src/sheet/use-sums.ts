import type { ColumnSum } from '@dew-trail/core/tables/sum-rows'
import { useEffect, useState, useSyncExternalStore } from 'react'
import type { WholeSource } from '../rows/row-source.ts'

/** Sums of the shown rows or of the selected ones, asked for again a moment after something changed. */
export function useSums(
  source: WholeSource,
  columns: readonly string[],
  selected: ReadonlySet<number>,
): { rows: number; sums: Record<string, ColumnSum> } | null {
  const version = useSyncExternalStore(source.subscribe, () => source.listVersion)
  const [sums, setSums] = useState<{ rows: number; sums: Record<string, ColumnSum> } | null>(null)
  const key = columns.join(',')
  // biome-ignore lint/correctness/useExhaustiveDependencies: version stands for the rows.
  useEffect(() => {
    const timer = setTimeout(() => {
      source.sums(key.split(','), selected.size ? [...selected] : undefined).then(setSums, () => undefined)
    }, 200)
    return () => clearTimeout(timer)
  }, [source, version, key, selected])
  return sums
}
