import { type PlaceGrid, removePlaceGrid, startPlaceRun } from '@dew-trail/contract/places'
import { MenuItem, TextField } from '@mui/material'
import { lazy } from 'react'
import { call } from '../../api/call.ts'
import { ActButton } from '../../ui/ActButton.tsx'
import { useShowDialog } from '../../ui/DialogHost.tsx'
import { formatDay, formatWhole, plural } from '../../ui/format.ts'
import { MoreMenu } from '../../ui/MoreMenu.tsx'
import { useSite } from '../../ui/site-context.ts'
import { TabBar } from '../../ui/TabBar.tsx'
import { useAct } from '../../ui/use-act.ts'
import { setParam, useAddress } from '../../ui/use-address.ts'
import { tabs, useLookedAt } from './use-place.ts'

export const GridDialog = lazy(() => import('./GridDialog.tsx'))
const PlaceScheduleDialog = lazy(() => import('./PlaceScheduleDialog.tsx'))

type Props = { grids: readonly PlaceGrid[]; grid: PlaceGrid; see: keyof typeof tabs }
/** Which grid, run and keyword are looked at, what can be done with them, and what of them is shown. */
export function PlacesBar({ grids, grid, see }: Props) {
  const { site } = useSite()
  const [, change] = useAddress()
  const show = useShowDialog()
  const act = useAct()
  const { run, beside, phrase } = useLookedAt(grid)
  const keywords = [...new Set([...grid.keywords, ...(run?.keywords ?? [])])]
  const choose = (name: string, value: string | null) =>
    change(params => {
      setParam(name, value)(params)
      if (name === 'grid') for (const other of ['run', 'beside', 'keyword', 'of', 'at']) params.delete(other)
    }, true)
  const missing = run ? run.wanted - run.checked : 0
  const requests = grid.keywords.length * (grid.size * grid.size - grid.leftOut.length)
  const ofRun = see !== 'doubtful' && see !== 'runs'
  return (
    <div className="bar rivals-bar" role="toolbar" aria-label="Which grid">
      <div className="rivals-what">
        <TextField
          select
          value={grid.id}
          onChange={event => choose('grid', String(event.target.value))}
          slotProps={{ htmlInput: { 'aria-label': 'Which grid' } }}
          sx={{ minWidth: 180, maxWidth: 300 }}
        >
          {grids.map(each => (
            <MenuItem key={each.id} value={each.id}>
              {each.name}
            </MenuItem>
          ))}
        </TextField>
        {ofRun && run && (
          <>
            <TextField
              select
              value={phrase}
              onChange={event => choose('keyword', event.target.value)}
              slotProps={{ htmlInput: { 'aria-label': 'Which keyword' } }}
              sx={{ minWidth: 130, maxWidth: 220 }}
            >
              {keywords.map(each => (
                <MenuItem key={each} value={each} disabled={!run.keywords.includes(each)}>
                  {each}
                </MenuItem>
              ))}
            </TextField>
            <TextField
              select
              value={run.id}
              onChange={event => choose('run', String(event.target.value))}
              slotProps={{ htmlInput: { 'aria-label': 'Which run' } }}
            >
              {grid.runs.map(each => (
                <MenuItem key={each.id} value={each.id}>
                  {formatDay(each.day)}
                  {each.checked < each.wanted ? `, ${formatWhole(each.checked)} of ${formatWhole(each.wanted)}` : ''}
                </MenuItem>
              ))}
            </TextField>
            <TextField
              select
              value={beside?.id ?? ''}
              onChange={event => choose('beside', event.target.value ? String(event.target.value) : null)}
              slotProps={{ htmlInput: { 'aria-label': 'Compared with' }, select: { displayEmpty: true } }}
              disabled={grid.runs.length < 2}
            >
              <MenuItem value="">compared with none</MenuItem>
              {grid.runs
                .filter(each => each.id !== run.id)
                .map(each => (
                  <MenuItem key={each.id} value={each.id}>
                    {formatDay(each.day)}
                  </MenuItem>
                ))}
            </TextField>
          </>
        )}
        <ActButton
          title={`Asks the engine ${plural(requests, 'time')}: once a point and keyword`}
          onAct={async () => {
            const begun = await call(startPlaceRun, { siteId: site.id, gridId: grid.id })
            change(setParam('run', String(begun.runId)))
            return { say: `Asking at ${plural(begun.requests, 'point')}; the foot shows how far it is` }
          }}
        >
          Run now
        </ActButton>
        {ofRun && run && missing > 0 && (
          <ActButton
            title="Asks only about the points that this run lacks"
            onAct={async () => {
              const begun = await call(startPlaceRun, { siteId: site.id, gridId: grid.id, runId: run.id })
              return { say: `Asking again at ${plural(begun.requests, 'point')}` }
            }}
          >
            {`Ask for the ${formatWhole(missing)} missing`}
          </ActButton>
        )}
        <button type="button" className="link" onClick={() => show(close => <GridDialog onClose={close} />)}>
          New grid
        </button>
        <MoreMenu
          items={[
            {
              label: grid.schedule ? 'Its schedule' : 'Run it on a schedule',
              run: () => show(close => <PlaceScheduleDialog grid={grid} onClose={close} />),
            },
            {
              label: 'Remove this grid',
              run: () =>
                void act(async () => {
                  const { actId } = await call(removePlaceGrid, { siteId: site.id, gridId: grid.id })
                  return { say: `${grid.name} removed`, actId }
                }),
            },
          ]}
        />
        <TabBar tabs={tabs} see={see} forget={['at']} />
      </div>
    </div>
  )
}
