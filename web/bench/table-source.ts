import type { Condition } from '@dew-trail/core/tables/column-spec'
import {
  columnFilteringFeature,
  createFilteredRowModel,
  createSortedRowModel,
  rowSortingFeature,
  tableFeatures,
  useTable,
} from '@tanstack/react-table'
import { useMemo, useRef, useState } from 'react'
import type { Row, RowSource, SourceQuery } from '../src/rows/row-source.ts'
import { makeBatch } from './rows.ts'

const features = tableFeatures({
  columnFilteringFeature,
  rowSortingFeature,
  filteredRowModel: createFilteredRowModel(),
  sortedRowModel: createSortedRowModel(),
})

/** The reference: rows as objects in TanStack Table, which filters and sorts them itself on the main thread. */
export function useTableSource(count: number): RowSource {
  const data = useMemo(() => {
    const { ids, columns } = makeBatch(count)
    return ids.map(
      (id, i) =>
        ({ id, ...Object.fromEntries(Object.entries(columns).map(([key, values]) => [key, values[i]])) }) as Row,
    )
  }, [count])
  const [query, setQuery] = useState<SourceQuery>({ where: [], sort: [] })
  const columns = useMemo(
    () => [
      {
        id: 'phrase',
        accessorFn: (row: Row) => row.phrase,
        filterFn: (row: { original: Row }, _: string, value: string) => String(row.original.phrase).includes(value),
      },
      {
        id: 'searches',
        accessorFn: (row: Row) => row.searches ?? undefined,
        sortUndefined: 'last' as const,
        sortFn: (a: { original: Row }, b: { original: Row }) =>
          Number(a.original.searches ?? 0) - Number(b.original.searches ?? 0),
        filterFn: (row: { original: Row }, _: string, value: number) => Number(row.original.searches ?? -1) >= value,
      },
    ],
    [],
  )
  const columnFilters = useMemo(
    () =>
      query.where.flatMap((condition: Condition) =>
        'value' in condition ? [{ id: condition.column, value: condition.value }] : [],
      ),
    [query],
  )
  const sorting = useMemo(() => query.sort.map(each => ({ id: each.column, desc: each.down })), [query])
  const table = useTable({ features, columns: columns as never, data, state: { columnFilters, sorting } as never })
  const { rows } = table.getRowModel()
  const listeners = useRef(new Set<() => void>())
  const version = useRef(0)
  const lastRows = useRef(rows)
  if (lastRows.current !== rows) {
    lastRows.current = rows
    version.current++
  }
  const fixed = useRef({
    subscribe(listener: () => void) {
      listeners.current.add(listener)
      return () => listeners.current.delete(listener)
    },
    // The same question must not draw the page again.
    setQuery: (next: SourceQuery) =>
      setQuery(before => (JSON.stringify(before) === JSON.stringify(next) ? before : next)),
    requestRange() {},
    getRow: (index: number) => lastRows.current[index]?.original as Row | undefined,
    indexOf: () => undefined,
    indexesOf: async () => [],
  })
  return {
    ...fixed.current,
    count: rows.length,
    total: data.length,
    version: version.current,
    listVersion: String(version.current),
    state: 'ready',
    error: null,
    pending: false,
  }
}
