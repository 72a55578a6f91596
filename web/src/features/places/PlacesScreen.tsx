import { JobLine } from '../../ui/JobLine.tsx'
import { useShowDialog } from '../../ui/DialogHost.tsx'
import { ScreenTitle } from '../../ui/ScreenTitle.tsx'
import { useTab } from '../../ui/TabBar.tsx'
import { Waiting } from '../../api/Waiting.tsx'
import { DoubtfulTab } from './DoubtfulTab.tsx'
import { MapTab } from './MapTab.tsx'
import { GridDialog } from './PlacesBar.tsx'
import { PointsTab } from './PointsTab.tsx'
import { RunsTab } from './RunsTab.tsx'
import { StrongholdsTab } from './StrongholdsTab.tsx'
import { tabs, useGrids } from './use-place.ts'

/** Where in a town a business is shown, and who stands before it elsewhere. What is looked at and how stands in the address. */
export default function PlacesScreen() {
  const see = useTab(tabs)
  const { grids, grid, error } = useGrids()
  if (!grids)
    return (
      <main className="screen whole">
        <ScreenTitle title="Places" />
        <Waiting error={error} />
      </main>
    )
  if (!grid) return <NoGrid />
  const shown = { grids, grid }
  switch (see) {
    case 'points':
      return <PointsTab key={grid.id} {...shown} />
    case 'strongholds':
      return <StrongholdsTab key={grid.id} {...shown} />
    case 'runs':
      return <RunsTab key={grid.id} {...shown} />
    case 'doubtful':
      return <DoubtfulTab key={grid.town} {...shown} />
    default:
      return <MapTab key={grid.id} {...shown} />
  }
}

function NoGrid() {
  const show = useShowDialog()
  return (
    <main className="screen whole">
      <div className="main">
        <ScreenTitle title="Places" />
        <div className="empty" style={{ flex: 1 }}>
          <h2>Where in town are you shown?</h2>
          <p>
            Local results depend on where the searcher stands. A grid asks at many points of a town at once, and shows
            how far your business is found, and where others hold the ground.
          </p>
          <button type="button" className="link" onClick={() => show(close => <GridDialog onClose={close} />)}>
            Lay a grid over a town
          </button>
        </div>
        <div className="foot">
          <div className="foot-end">
            <JobLine />
          </div>
        </div>
      </div>
    </main>
  )
}
