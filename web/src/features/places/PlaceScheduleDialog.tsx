import { listPlaceGrids, type PlaceGrid, setPlaceSchedule } from '@dew-trail/contract/places'
import type { Rhythm } from '@dew-trail/contract/schedules'
import { Button, Dialog, DialogActions, DialogContent, DialogTitle } from '@mui/material'
import { call } from '../../api/call.ts'
import { useEndpoint } from '../../api/use-endpoint.ts'
import { plural } from '../../ui/format.ts'
import { RhythmCells } from '../../ui/RhythmCells.tsx'
import { momentText } from '../../ui/rhythm-text.ts'
import { useSite } from '../../ui/site-context.ts'
import { useAct } from '../../ui/use-act.ts'
import { useChange } from '../../ui/use-change.ts'

/** When a grid runs by itself. Every choice counts at once. */
export default function PlaceScheduleDialog({ grid, onClose }: { grid: PlaceGrid; onClose(): void }) {
  const { site } = useSite()
  const act = useAct()
  const { run, pending } = useChange()
  const { data, refetch } = useEndpoint(listPlaceGrids, { siteId: site.id })
  const schedule = data?.grids.find(each => each.id === grid.id)?.schedule ?? null
  const set = (rhythm: Rhythm | null) =>
    run(() =>
      act(async () => {
        await call(setPlaceSchedule, { siteId: site.id, gridId: grid.id, rhythm })
        await refetch()
      }),
    )
  return (
    <Dialog open onClose={onClose} maxWidth="sm" fullWidth>
      <DialogTitle>When {grid.name} runs</DialogTitle>
      <DialogContent>
        <p className="quiet" style={{ marginTop: 0 }}>
          Each run asks the engine{' '}
          {plural(grid.keywords.length * (grid.size * grid.size - grid.leftOut.length), 'time')}. Hours are those of{' '}
          {data?.timeZone ?? 'the site'}.
        </p>
        <table className="results whole-cells">
          <thead>
            <tr>
              <th>How often</th>
              <th>Day</th>
              <th>Hour</th>
              <th>Next</th>
              <th>Last</th>
            </tr>
          </thead>
          <tbody>
            <tr>
              <RhythmCells
                rhythm={schedule?.rhythm ?? null}
                of="the grid runs"
                disabled={pending || !data}
                onChange={rhythm => void set(rhythm)}
              />
              <td>{schedule && data ? momentText(schedule.nextAt, data.timeZone) : ''}</td>
              <td>
                {schedule?.lastAt && data
                  ? `${momentText(schedule.lastAt, data.timeZone)}${schedule.wasLate ? ', late' : ''}`
                  : ''}
                {schedule?.lastError && <div role="alert">{schedule.lastError}</div>}
              </td>
            </tr>
          </tbody>
        </table>
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Close</Button>
      </DialogActions>
    </Dialog>
  )
}
