import { listDoubtfulListings, type PlaceGrid } from '@dew-trail/contract/places'
import { doubtfulBatch, doubtfulSpecs } from '@dew-trail/contract/place-tables'
import { useMemo } from 'react'
import { useEndpoint } from '../../api/use-endpoint.ts'
import { plainView } from '../../sheet/plain-view.ts'
import { TableScreen } from '../../sheet/TableScreen.tsx'
import { useRowsInWorker } from '../../sheet/use-rows-in-worker.ts'
import { useSheetState } from '../../sheet/use-sheet-state.ts'
import { formatWhole, plural } from '../../ui/format.ts'
import { useSite } from '../../ui/site-context.ts'
import { doubtfulColumns } from './place-columns.tsx'
import { PlacesBar } from './PlacesBar.tsx'

const sums = ['weight']
const views = [plainView('All of them', '-weight'), plainView('Gravest', '-weight', 'weight:from:3')]

/** Listings of the grid's town that may not be what they say, with the reasons; the table goes out in all formats, as a list to report. */
export function DoubtfulTab({ grids, grid }: { grids: readonly PlaceGrid[]; grid: PlaceGrid }) {
  const { site } = useSite()
  const { data, error } = useEndpoint(listDoubtfulListings, { siteId: site.id, town: grid.town }, { keep: true })
  const batch = useMemo(() => (data ? doubtfulBatch(data.rows) : null), [data])
  const source = useRowsInWorker(doubtfulSpecs, batch)
  const state = useSheetState('-weight')
  return (
    <TableScreen
      name="place-doubtful"
      label={`Doubtful listings in ${grid.townName}`}
      fileName={`doubtful-listings-${grid.town}`}
      title="Places"
      noun="listing"
      top={<PlacesBar grids={grids} grid={grid} see="doubtful" />}
      head={
        data && (
          <div className="places-open">
            <p className="sentence" style={{ margin: 0 }}>
              {plural(data.rows.length, 'listing')} of {formatWhole(data.looked)} in {grid.townName} may not be what
              they say. Each has its reasons; look yourself before you report one. Branches of a chain and neighbours in
              one building do not count.
            </p>
          </div>
        )
      }
      source={source}
      error={error}
      total={data?.rows.length ?? 0}
      columns={doubtfulColumns}
      state={state}
      searchColumn="name"
      sums={sums}
      shippedViews={views}
      unfold={row => (
        <ul className="prose-list">
          {String(row.reasons)
            .split('; ')
            .map(reason => (
              <li key={reason}>{reason}</li>
            ))}
        </ul>
      )}
      none={
        <>
          <h2>No listing in {grid.townName} is doubtful</h2>
          <p>{formatWhole(data?.looked ?? 0)} were looked at.</p>
        </>
      }
    />
  )
}
