import { listDoubtfulListings, type PlaceGrid } from '@dew-trail/contract/places'
import { strongholdBatch, type StrongholdRow, strongholdSpecs } from '@dew-trail/contract/place-tables'
import { openings, strongholds } from '@dew-trail/core/places/strongholds'
import { metresText } from '@dew-trail/core/places/rank-sentence'
import { useMemo } from 'react'
import { useEndpoint } from '../../api/use-endpoint.ts'
import { plainView } from '../../sheet/plain-view.ts'
import { TableScreen } from '../../sheet/TableScreen.tsx'
import { useRowsInWorker } from '../../sheet/use-rows-in-worker.ts'
import { useSheetState } from '../../sheet/use-sheet-state.ts'
import { plural } from '../../ui/format.ts'
import { useSite } from '../../ui/site-context.ts'
import { setParam, useAddress } from '../../ui/use-address.ts'
import { strongholdColumns } from './place-columns.tsx'
import { PlacesBar } from './PlacesBar.tsx'
import { pointsOf, pointWords, type Results, useLookedAt, useResults } from './use-place.ts'

const sums = ['leads']
const views = [
  plainView('All of them', '-leads'),
  plainView('Those that lead somewhere', '-leads', 'leads:from:1'),
  plainView('Doubtful ones that lead', '-leads', 'doubtful:yes', 'leads:from:1'),
  plainView('Accepted rivals', '-leads', 'who:is:rival'),
]
/** Openings that are named. */
const mostNamed = 12

/** Who leads where and how far that reaches, and the points where the first three are weak or far away. */
export function StrongholdsTab({ grids, grid }: { grids: readonly PlaceGrid[]; grid: PlaceGrid }) {
  const { site } = useSite()
  const [, change] = useAddress()
  const { run, phrase } = useLookedAt(grid)
  const { data: results, error } = useResults(run, phrase)
  const { data: doubts } = useEndpoint(listDoubtfulListings, { siteId: site.id, town: grid.town }, { keep: true })
  const rows = useMemo(
    () => (results ? rowsOf(grid, results, new Set(doubts?.rows.map(each => each.id))) : null),
    [grid, results, doubts],
  )
  const batch = useMemo(() => (rows ? strongholdBatch(rows) : null), [rows])
  const source = useRowsInWorker(strongholdSpecs, batch)
  const state = useSheetState('-leads')
  const open = useMemo(() => (results ? openingsOf(grid, results) : []), [grid, results])
  const leader = rows?.find(row => row.leads > 0)
  const show = (edit: (params: URLSearchParams) => void) =>
    change(params => {
      for (const name of ['see', 'where', 'sort', 'open']) params.delete(name)
      edit(params)
    }, true)
  return (
    <TableScreen
      name="place-strongholds"
      label="Who leads where"
      fileName={`strongholds-${grid.town}-${results?.day ?? ''}`}
      title="Places"
      noun="listing"
      top={<PlacesBar grids={grids} grid={grid} see="strongholds" />}
      head={
        rows && (
          <div className="places-open">
            <p className="sentence" style={{ margin: 0 }}>
              {leader
                ? `${leader.business} leads ${plural(leader.leads, 'point')}${leader.reach ? `, as far as ${metresText(leader.reach)} away` : ''}. `
                : 'Nobody leads anywhere. '}
              {open.length
                ? `At ${plural(open.length, 'point')} two of the first three are weak or far away and you are not among them.`
                : 'At no point where you are not among the first three are two of them weak or far away.'}
            </p>
            {open.length > 0 && (
              <p style={{ margin: 0 }}>
                Openings:{' '}
                {open.slice(0, mostNamed).map(({ at, weak, far }, i) => (
                  <span key={at}>
                    {i > 0 && ', '}
                    <button
                      type="button"
                      className="plain-link"
                      title={`${weak} of the first three have few reviews or no site; ${far} stand more than ${metresText(2 * grid.spacing)} away`}
                      onClick={() => show(setParam('at', String(at)))}
                    >
                      {pointWords(grid, at)}
                    </button>
                  </span>
                ))}
                {open.length > mostNamed && `, and ${open.length - mostNamed} more`}
              </p>
            )}
          </div>
        )
      }
      source={run ? source : null}
      error={error}
      total={rows?.length ?? 0}
      columns={strongholdColumns}
      state={state}
      searchColumn="business"
      sums={sums}
      shippedViews={views}
      rowActions={{
        keys: () => ({ M: id => id !== null && show(setParam('of', String(id))) }),
        menu: row => [{ label: 'Show on the map', key: 'M', run: () => show(setParam('of', String(row.id))) }],
      }}
      none={<p>There is no run yet, or nobody is listed anywhere.</p>}
    />
  )
}

function rowsOf(grid: PlaceGrid, results: Results, doubtful: ReadonlySet<string>): StrongholdRow[] {
  const byNumber = new Map(results.businesses.map(each => [each.number, each]))
  return strongholds(pointsOf(grid), results.points, number => byNumber.get(number), grid.depth).map(each => {
    const { id, name, own, rival, category, rating, reviews, url } = byNumber.get(each.business)!
    return {
      id: each.business,
      business: name,
      who: own ? 'own' : rival ? 'rival' : 'other',
      leads: each.leads,
      first3: each.first3,
      reach: each.leads ? Math.round(each.reach) : null,
      mean: each.mean,
      category,
      rating,
      reviews,
      url,
      doubtful: doubtful.has(id),
    }
  })
}
function openingsOf(grid: PlaceGrid, results: Results) {
  const byNumber = new Map(results.businesses.map(each => [each.number, each]))
  const own = results.businesses.filter(each => each.own).map(each => each.number)
  return openings(pointsOf(grid), results.points, own, number => byNumber.get(number), 2 * grid.spacing)
}
