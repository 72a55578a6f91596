import { useCallback, useEffect, useMemo, useRef, useState } from 'react'
import { RowOffsets, rowHeight } from './row-offsets.ts'
import type { RowSource } from '../rows/row-source.ts'

/** Height of an unfolded row's details until they have been drawn once. */
const estimatedDetails = 380
/** Browsers draw no element higher than 17 to 33 million pixels: beyond this many rows the rest of a list is reached by conditions and order. */
export const mostDrawn = 500_000

/** Where a source's rows stand, of which those with the ids in `open` are unfolded, wherever in the list they are. */
export function useRowOffsets(source: RowSource, open: ReadonlySet<number>) {
  const heights = useRef(new Map<number, number>())
  const [measured, setMeasured] = useState(0)
  const [found, setFound] = useState<ReadonlyMap<number, number>>(new Map())
  const { version, listVersion } = source
  // biome-ignore lint/correctness/useExhaustiveDependencies: rows stand elsewhere in another list.
  useEffect(() => {
    if (!open.size) return
    let over = false
    source.indexesOf([...open]).then(
      rows => {
        if (!over) setFound(new Map(rows.map(({ id, index }) => [id, index])))
      },
      // The worker went away, and the list with it.
      () => undefined,
    )
    return () => {
      over = true
    }
  }, [source, open, listVersion])

  const count = Math.min(source.count, mostDrawn)
  // biome-ignore lint/correctness/useExhaustiveDependencies: a row that was just unfolded is known from what is drawn, before the worker answers.
  const offsets = useMemo(() => {
    const higher = [...open]
      .map(id => ({ index: source.indexOf(id) ?? found.get(id), extra: heights.current.get(id) ?? estimatedDetails }))
      .filter((row): row is { index: number; extra: number } => row.index !== undefined)
    return new RowOffsets(count, rowHeight, higher)
  }, [source, count, open, found, measured, version])
  const setHeight = useCallback((id: number, height: number) => {
    if (heights.current.get(id) === height) return
    heights.current.set(id, height)
    setMeasured(times => times + 1)
  }, [])
  return { offsets, setHeight }
}
