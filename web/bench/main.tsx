import '@fontsource-variable/hanken-grotesk'
import '../src/theme/base.css'
import { keywordColumns } from '@dew-trail/contract/gather'
import { ThemeProvider } from '@mui/material'
import type { ColumnSpec } from '@dew-trail/core/tables/column-spec'
import { useEffect, useState } from 'react'
import { createRoot } from 'react-dom/client'
import { createBrowserRouter, RouterProvider } from 'react-router'
import { gatherColumns } from '../src/keywords/keyword-columns.tsx'
import { ConditionsBar } from '../src/sheet/ConditionsBar.tsx'
import type { RowSource } from '../src/rows/row-source.ts'
import { Sheet } from '../src/sheet/Sheet.tsx'
import { useColumnTable } from '../src/sheet/use-column-table.ts'
import { useSheetState } from '../src/sheet/use-sheet-state.ts'
import { WorkerSource } from '../src/rows/worker-source.ts'
import { theme } from '../src/theme/theme.ts'
import { makeBatch } from './rows.ts'
import { useTableSource } from './table-source.ts'

const params = new URLSearchParams(window.location.search)
const count = Number(params.get('rows') ?? 100_000)
const none: ReadonlySet<number> = new Set()
const specs = keywordColumns as readonly ColumnSpec[]

/** The sheet on made-up rows: by our worker, or (engine=table) the same page with TanStack Table filtering and sorting itself. */
function Bench({ source }: { source: RowSource }) {
  const state = useSheetState('-searches')
  const table = useColumnTable('bench', gatherColumns)
  Object.assign(window, { source })
  return (
    <div className="main" style={{ height: '100vh' }}>
      <ConditionsBar columns={gatherColumns} state={state} searchColumn="phrase" />
      <Sheet
        label="Bench"
        source={source}
        columns={gatherColumns}
        table={table}
        state={state}
        selected={none}
        onSelect={() => undefined}
        empty={<p>nothing</p>}
      />
    </div>
  )
}
function ByWorker() {
  const [source, setSource] = useState<WorkerSource | null>(null)
  useEffect(() => {
    const made = new WorkerSource(specs)
    made.put(makeBatch(count))
    setSource(made)
    return () => made.close()
  }, [])
  return source ? <Bench source={source} /> : null
}
function ByTable() {
  return <Bench source={useTableSource(count)} />
}
const router = createBrowserRouter([
  { path: '*', element: params.get('engine') === 'table' ? <ByTable /> : <ByWorker /> },
])
createRoot(document.getElementById('root')!).render(
  <ThemeProvider theme={theme}>
    <RouterProvider router={router} />
  </ThemeProvider>,
)
