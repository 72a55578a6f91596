import type { PlaceGrid } from '@dew-trail/contract/places'
import { placePointBatch, type PlacePointRow, placePointSpecs } from '@dew-trail/contract/place-tables'
import { distanceMetres } from '@dew-trail/core/places/grid-points'
import { directionOf, rankChanges } from '@dew-trail/core/places/rank-figures'
import { useMemo } from 'react'
import { plainView } from '../../sheet/plain-view.ts'
import { TableScreen } from '../../sheet/TableScreen.tsx'
import { useRowsInWorker } from '../../sheet/use-rows-in-worker.ts'
import { useSheetState } from '../../sheet/use-sheet-state.ts'
import { pointColumns } from './place-columns.tsx'
import { PlacesBar } from './PlacesBar.tsx'
import { PointList } from './PointList.tsx'
import { pointsOf, pointWords, ranksIn, type Results, useLookedAt, useResults, useSubject } from './use-place.ts'

const sums = ['position']
const views = [
  plainView('All points', ''),
  plainView('Not among the first three', 'distance', 'position:from:4'),
  plainView('Not found', 'distance', 'state:is:not found'),
  plainView('Lost since the run beside', 'change', 'change:to:-1'),
  plainView('Not checked', '', 'state:is:not checked'),
]

/** The points of a run as a table: all that the map shows, in words and figures; a row unfolds to the list at its point. */
export function PointsTab({ grids, grid }: { grids: readonly PlaceGrid[]; grid: PlaceGrid }) {
  const { run, beside, phrase } = useLookedAt(grid)
  const { data: results, error } = useResults(run, phrase)
  const { data: other } = useResults(beside, phrase)
  const subject = useSubject(grid, results)
  const rows = useMemo(
    () => (results ? rowsOf(grid, results, beside ? other : undefined, subject.shown) : null),
    [grid, results, other, beside, subject.shown],
  )
  const batch = useMemo(() => (rows ? placePointBatch(rows) : null), [rows])
  const source = useRowsInWorker(placePointSpecs, batch)
  const state = useSheetState('')
  const columns = useMemo(() => pointColumns(grid.depth), [grid.depth])
  const points = useMemo(() => pointsOf(grid), [grid])
  return (
    <TableScreen
      name="place-points"
      label={`Points of ${grid.name}`}
      fileName={`points-${grid.town}-${results?.day ?? ''}`}
      title="Places"
      noun="point"
      top={<PlacesBar grids={grids} grid={grid} see="points" />}
      source={run ? source : null}
      error={error}
      total={rows?.length ?? 0}
      columns={columns}
      state={state}
      searchColumn="point"
      sums={sums}
      shippedViews={views}
      unfold={row =>
        results ? (
          <div style={{ maxWidth: 560 }}>
            <PointList
              grid={grid}
              results={results}
              at={Number(row.id) - 1}
              point={points[Number(row.id) - 1]!}
              leftOut={grid.leftOut.includes(Number(row.id) - 1)}
            />
          </div>
        ) : null
      }
      foot={() => <span className="quiet">{subject.name}</span>}
      none={<p>There is no run yet.</p>}
    />
  )
}

function rowsOf(
  grid: PlaceGrid,
  results: Results,
  other: Results | undefined,
  shown: Results['businesses'],
): PlacePointRow[] {
  const points = pointsOf(grid)
  const ranks = ranksIn(results, shown)
  const before = other ? ranksIn(other, shown) : points.map(() => null)
  const changes = rankChanges(ranks, before, grid.depth)
  const names = new Map(results.businesses.map(each => [each.number, each.name]))
  const from = shown[0] ?? grid
  const out = new Set(results.leftOut)
  return points.map((point, at) => {
    const nameAt = (place: number): string | null => names.get(results.points[at]?.[place] ?? -1) ?? null
    const rank = ranks[at]!
    return {
      id: at + 1,
      point: pointWords(grid, at),
      state: out.has(at) ? 'left out' : rank === null ? 'not checked' : rank ? 'found' : 'not found',
      position: rank || null,
      before: before[at] || null,
      change: changes[at]!,
      distance: Math.round(distanceMetres(from, point)),
      direction: distanceMetres(from, point) < grid.spacing / 2 ? null : directionOf(from, point),
      first: nameAt(0),
      second: nameAt(1),
      third: nameAt(2),
      latitude: point.latitude,
      longitude: point.longitude,
    }
  })
}
