import { listPlaceSums, type PlaceGrid, type PlaceSum, removePlaceRun } from '@dew-trail/contract/places'
import { placeSumBatch, type PlaceSumRow, placeSumSpecs } from '@dew-trail/contract/place-tables'
import { useMemo } from 'react'
import { call } from '../../api/call.ts'
import { useEndpoint } from '../../api/use-endpoint.ts'
import { plainView } from '../../sheet/plain-view.ts'
import { TableScreen } from '../../sheet/TableScreen.tsx'
import { useRowsInWorker } from '../../sheet/use-rows-in-worker.ts'
import { useSheetState } from '../../sheet/use-sheet-state.ts'
import { ActButton } from '../../ui/ActButton.tsx'
import { formatDay, formatWhole } from '../../ui/format.ts'
import { useSite } from '../../ui/site-context.ts'
import { MeansOverTime } from './MeansOverTime.tsx'
import { sumColumns } from './place-columns.tsx'
import { PlacesBar } from './PlacesBar.tsx'

const sums = ['checked']
const views = [
  plainView('Yours', '-day', 'own:yes'),
  plainView('All of them', '-day'),
  plainView('Risen', '-change', 'own:yes', 'change:from:0.5'),
  plainView('Fallen', 'change', 'own:yes', 'change:to:-0.5'),
]

/** Figures of all runs of a grid, keyword by keyword and business by business, with a line over time. */
export function RunsTab({ grids, grid }: { grids: readonly PlaceGrid[]; grid: PlaceGrid }) {
  const { site } = useSite()
  const { data, error } = useEndpoint(listPlaceSums, { siteId: site.id, gridId: grid.id }, { keep: true })
  const rows = useMemo(() => (data ? rowsOf(data) : null), [data])
  const batch = useMemo(() => (rows ? placeSumBatch(rows) : null), [rows])
  const source = useRowsInWorker(placeSumSpecs, batch)
  const state = useSheetState('-day')
  return (
    <TableScreen
      name="place-runs"
      label={`Runs of ${grid.name}`}
      fileName={`runs-${grid.town}`}
      title="Places"
      noun="figure"
      top={<PlacesBar grids={grids} grid={grid} see="runs" />}
      head={
        data && data.length > 0 ? (
          <div className="places-open">
            <MeansOverTime sums={data} depth={grid.depth} />
            <div style={{ display: 'flex', gap: 18, flexWrap: 'wrap' }}>
              {grid.runs.map(run => (
                <span key={run.id}>
                  {formatDay(run.day)}, {formatWhole(run.checked)} of {formatWhole(run.wanted)} points{' '}
                  <ActButton
                    label={`Remove the run of ${formatDay(run.day)}`}
                    onAct={async () => {
                      const { actId } = await call(removePlaceRun, { siteId: site.id, runId: run.id })
                      return { say: `Run of ${formatDay(run.day)} removed`, actId }
                    }}
                  >
                    Remove
                  </ActButton>
                </span>
              ))}
            </div>
          </div>
        ) : undefined
      }
      source={source}
      error={error}
      total={rows?.length ?? 0}
      columns={sumColumns}
      state={state}
      searchColumn="keyword"
      sums={sums}
      shippedViews={views}
      none={<p>There is no run yet. “Run now” makes the first.</p>}
    />
  )
}

/** Rows with their change since the run before, of the same keyword and business. Sums come with the newest run first. */
function rowsOf(sums: readonly PlaceSum[]): PlaceSumRow[] {
  const later = new Map<string, PlaceSumRow>()
  return sums.map((sum, i) => {
    const row: PlaceSumRow = {
      id: i + 1,
      day: sum.day,
      keyword: sum.keyword,
      business: sum.name,
      own: sum.own,
      mean: sum.mean,
      change: null,
      first3: sum.first3 / sum.checked,
      found: sum.found / sum.checked,
      checked: sum.checked,
    }
    const key = `${sum.keyword}\n${sum.business}`
    const after = later.get(key)
    if (after) after.change = sum.mean - after.mean
    later.set(key, row)
    return row
  })
}
