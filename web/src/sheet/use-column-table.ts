import {
  columnOrderingFeature,
  columnResizingFeature,
  columnSizingFeature,
  columnVisibilityFeature,
  tableFeatures,
  useTable,
} from '@tanstack/react-table'
import { useEffect, useLayoutEffect, useMemo } from 'react'
import type { SheetColumn } from './columns.ts'

const features = tableFeatures({
  columnOrderingFeature,
  columnResizingFeature,
  columnSizingFeature,
  columnVisibilityFeature,
})
type Kept = { order?: string[]; widths?: Record<string, number>; shown?: Record<string, boolean> }
const none: never[] = []

const storeKey = (name: string): string => `sheet:${name}`
function readKept(name: string): Kept {
  try {
    return JSON.parse(localStorage.getItem(storeKey(name)) ?? '{}') as Kept
  } catch {
    return {}
  }
}

/** Order, widths and choice of columns, by TanStack Table, kept in the browser for each sheet. */
export function useColumnTable(name: string, columns: readonly SheetColumn[]) {
  const initialState = useMemo(() => {
    const kept = readKept(name)
    return {
      columnOrder: kept.order ?? [],
      columnSizing: kept.widths ?? {},
      columnVisibility: {
        ...Object.fromEntries(columns.filter(column => column.hidden).map(column => [column.key, false])),
        ...kept.shown,
      },
    }
  }, [name, columns])
  const defs = useMemo(
    () =>
      columns
        .filter(column => !column.conditionOnly)
        .map(column => ({
          id: column.key,
          header: column.label,
          size: column.width,
          minSize: 44,
          maxSize: 900,
          enableHiding: !column.fixed,
        })),
    [columns],
  )
  const table = useTable({ features, columns: defs, data: none, initialState, columnResizeMode: 'onChange' })
  const { columnOrder, columnSizing, columnVisibility } = table.state
  // Columns that come with an answer, such as those of rivals, are hidden as they came too, before anything is drawn.
  useLayoutEffect(() => {
    const late = columns.filter(({ key, hidden }) => hidden && columnVisibility[key] === undefined)
    if (late.length)
      table.setColumnVisibility(shown => ({ ...Object.fromEntries(late.map(({ key }) => [key, false])), ...shown }))
  }, [table, columns, columnVisibility])
  useEffect(() => {
    localStorage.setItem(
      storeKey(name),
      JSON.stringify({ order: columnOrder, widths: columnSizing, shown: columnVisibility }),
    )
  }, [name, columnOrder, columnSizing, columnVisibility])
  return table
}
export type ColumnTable = ReturnType<typeof useColumnTable>
