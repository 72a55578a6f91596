import { changePlaceGrid, type PlaceGrid, readTown } from '@dew-trail/contract/places'
import { type Direction, directionOf, rankChanges, rankFigures } from '@dew-trail/core/places/rank-figures'
import { rankSentence } from '@dew-trail/core/places/rank-sentence'
import { useMemo } from 'react'
import { call } from '../../api/call.ts'
import { useEndpoint } from '../../api/use-endpoint.ts'
import { formatDay, formatOne, formatShare, formatWhole, plural } from '../../ui/format.ts'
import { JobLine } from '../../ui/JobLine.tsx'
import { ScreenTitle } from '../../ui/ScreenTitle.tsx'
import { useSite } from '../../ui/site-context.ts'
import { useAct } from '../../ui/use-act.ts'
import { setParam, useAddress } from '../../ui/use-address.ts'
import { changeCells, legendOf, rankCells } from './cells.ts'
import { FiguresByPart } from './FiguresByPart.tsx'
import { PlacesBar } from './PlacesBar.tsx'
import { PointList } from './PointList.tsx'
import { SaveMap } from './SaveMap.tsx'
import { SubjectChoice } from './SubjectChoice.tsx'
import { TownView } from './TownView.tsx'
import { pointsOf, ranksIn, type Results, useLookedAt, useResults, useSubject } from './use-place.ts'

type Props = { grids: readonly PlaceGrid[]; grid: PlaceGrid }
/** Positions over the town: figures and a sentence at the left, the map beside; a second map or the difference where two runs are compared. */
export function MapTab({ grids, grid }: Props) {
  const { site } = useSite()
  const act = useAct()
  const [params, change] = useAddress()
  const { run, beside, phrase } = useLookedAt(grid)
  const { data: results, error } = useResults(run, phrase)
  const { data: other } = useResults(beside, phrase)
  const town = useEndpoint(readTown, { siteId: site.id, town: grid.town }, { keep: true })
  const subject = useSubject(grid, results)
  const points = useMemo(() => pointsOf(grid), [grid])
  const read = useMemo(() => results && readPicture(grid, results, subject.shown), [grid, results, subject.shown])
  const before = useMemo(
    () => other && readPicture(grid, other, matching(other, subject.shown)),
    [grid, other, subject.shown],
  )
  const wanted = params.get('at')
  const chosen = wanted !== null && /^\d+$/.test(wanted) && Number(wanted) < points.length ? Number(wanted) : null
  const choose = (at: number | null) => change(setParam('at', at === null ? null : String(at)))
  const asDifference = params.get('as') === 'difference'
  const marks = useMemo(
    () => subject.shown.map(({ name, own, latitude, longitude }) => ({ name, own, latitude, longitude })),
    [subject.shown],
  )
  const leaveOut = (at: number) =>
    act(async () => {
      const leftOut = grid.leftOut.includes(at) ? grid.leftOut.filter(each => each !== at) : [...grid.leftOut, at]
      const { actId } = await call(changePlaceGrid, {
        siteId: site.id,
        gridId: grid.id,
        version: grid.version,
        leftOut,
      })
      return {
        say: grid.leftOut.includes(at) ? 'The next run asks at this point again' : 'The next run leaves this point out',
        actId,
      }
    })
  const shared = {
    map: town.data?.map,
    centre: grid,
    size: grid.size,
    spacing: grid.spacing,
    marks,
    chosen,
    onChoose: choose,
  }
  const onKey = (key: string, at: number) => {
    if (key === 'o' || key === 'O') void leaveOut(at)
  }
  return (
    <main className="screen whole">
      <ScreenTitle title="Places" />
      <div className="main">
        <PlacesBar grids={grids} grid={grid} see="map" />
        <div className="places">
          <div className="places-side">
            {!run ? (
              <p>No run yet. “Run now” asks at {plural(grid.size * grid.size - grid.leftOut.length, 'point')}.</p>
            ) : !read || !results ? (
              <p className="quiet" role={error ? 'alert' : undefined}>
                {error ? error.message : 'Loading'}
              </p>
            ) : (
              <>
                <SubjectChoice results={results} subject={subject} />
                <p style={{ margin: 0 }}>
                  <b className="big-figure">{read.mean === null ? '–' : formatOne(read.mean)}</b> mean position
                  {before?.mean != null && read.mean !== null && (
                    <span className="quiet">
                      {' '}
                      {changeWords(before.mean - read.mean)} since {formatDay(other!.day)}
                    </span>
                  )}
                </p>
                <p className="sentence" style={{ margin: 0 }}>
                  {read.sentence}
                </p>
                <p style={{ margin: 0 }}>
                  Within 3 at <b>{formatWhole(read.first3)}</b>, found at <b>{formatWhole(read.found)}</b> of{' '}
                  {plural(read.checked, 'checked point')}
                  {read.checked > 0 &&
                    ` (${formatShare(read.first3 / read.checked)}, ${formatShare(read.found / read.checked)})`}
                  .
                </p>
                <p className="quiet" style={{ margin: 0 }}>
                  Not found counts as {grid.depth + 1}.
                  {read.notChecked - results.leftOut.length > 0 &&
                    ` ${plural(read.notChecked - results.leftOut.length, 'point was', 'points were')} not checked, which says nothing.`}
                </p>
                {chosen === null ? (
                  <FiguresByPart figures={read} />
                ) : (
                  <PointList
                    grid={grid}
                    results={results}
                    at={chosen}
                    point={points[chosen]!}
                    onClose={() => choose(null)}
                    leftOut={grid.leftOut.includes(chosen)}
                    onLeaveOut={() => leaveOut(chosen)}
                  />
                )}
              </>
            )}
          </div>
          <div className="places-maps">
            {beside && other && (
              <div className="places-switch" role="group" aria-label="How two runs are shown">
                {(['beside', 'difference'] as const).map(way => (
                  <button
                    key={way}
                    type="button"
                    className="link"
                    aria-pressed={asDifference === (way === 'difference')}
                    onClick={() => change(setParam('as', way === 'difference' ? way : null))}
                  >
                    {way === 'difference' ? 'as a difference' : 'beside each other'}
                  </button>
                ))}
              </div>
            )}
            <div className="places-row">
              {read && beside && before && asDifference ? (
                <TownView
                  {...shared}
                  label={`Change from ${formatDay(other!.day)} to ${formatDay(results!.day)}`}
                  cells={changeCells(rankChanges(read.ranks, before.ranks, grid.depth))}
                  onKey={onKey}
                />
              ) : (
                <>
                  <TownView
                    {...shared}
                    label={`Positions of ${subject.name} for ${phrase}, ${run ? formatDay(run.day) : 'no run yet'}`}
                    cells={
                      read
                        ? rankCells(read.ranks, grid.depth, results!.leftOut)
                        : rankCells(
                            points.map(() => null),
                            grid.depth,
                            grid.leftOut,
                          )
                    }
                    onKey={onKey}
                  />
                  {before && (
                    <TownView
                      {...shared}
                      label={`Positions of ${subject.name} for ${phrase}, ${formatDay(other!.day)}`}
                      cells={rankCells(before.ranks, grid.depth, other!.leftOut)}
                    />
                  )}
                </>
              )}
            </div>
            <div className="places-legend">
              {asDifference && before ? (
                <span className="quiet">
                  + is better: so many positions won at the point; − lost. A dash: not checked in both.
                </span>
              ) : (
                legendOf(grid.depth).map(({ of, text, sample }) => (
                  <span key={of}>
                    <svg
                      width="24"
                      height="24"
                      viewBox="-0.6 -0.6 1.2 1.2"
                      aria-hidden="true"
                      className={`hex hex-${of}`}
                    >
                      <polygon points="0.47,0.27 0,0.54 -0.47,0.27 -0.47,-0.27 0,-0.54 0.47,-0.27" />
                      <text dy=".35em" fontSize={0.42}>
                        {sample}
                      </text>
                    </svg>{' '}
                    {text}
                  </span>
                ))
              )}
              {town.error && (
                <span className="fall">The map of the town could not be loaded: {town.error.message}</span>
              )}
              <span className="bar-end">
                {read && results && (
                  <SaveMap
                    grid={grid}
                    results={results}
                    ranks={read.ranks}
                    sentence={read.sentence}
                    name={subject.name}
                    town={town.data?.map}
                    marks={marks}
                  />
                )}
              </span>
            </div>
          </div>
        </div>
        <div className="foot">
          <span>
            {grid.townName}, {grid.size} × {grid.size} points, {formatWhole(grid.spacing)} m apart
          </span>
          <JobLine />
        </div>
      </div>
    </main>
  )
}

const changeWords = (change: number): string =>
  Math.abs(change) < 0.05 ? 'as before' : change > 0 ? `up ${formatOne(change)}` : `down ${formatOne(-change)}`
/** The same businesses in another run. */
const matching = (results: Results, shown: Results['businesses']): Results['businesses'] => {
  const numbers = new Set(shown.map(each => each.number))
  const found = results.businesses.filter(each => numbers.has(each.number))
  return found.length ? found : shown
}

/** Positions with their figures and the sentence that reads them. */
function readPicture(grid: PlaceGrid, results: Results, shown: Results['businesses']) {
  const points = pointsOf(grid)
  const ranks = ranksIn(results, shown)
  const from = shown[0] ?? grid
  const figures = rankFigures(points, ranks, from, grid)
  const ahead = (direction: Direction): string | null => {
    const leads = new Map<number, number>()
    for (const [at, point] of points.entries()) {
      const first = results.points[at]?.[0]
      if (first === undefined || ranks[at] === 1 || directionOf(from, point) !== direction) continue
      leads.set(first, (leads.get(first) ?? 0) + 1)
    }
    const most = [...leads].sort((a, b) => b[1] - a[1] || a[0] - b[0])[0]
    return results.businesses.find(each => each.number === most?.[0])?.name ?? null
  }
  return { ...figures, ranks, sentence: rankSentence(figures, ahead, grid.spacing) }
}
