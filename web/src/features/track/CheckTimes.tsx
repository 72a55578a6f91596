import { listCheckSchedules, type Rhythm, setCheckSchedule, setTimeZone } from '@dew-trail/contract/schedules'
import { Autocomplete, Button, Dialog, DialogActions, DialogContent, DialogTitle, TextField } from '@mui/material'
import { call } from '../../api/call.ts'
import { useEndpoint } from '../../api/use-endpoint.ts'
import { formatMarket } from '../../ui/format.ts'
import { RhythmCells } from '../../ui/RhythmCells.tsx'
import { momentText, rhythmText } from '../../ui/rhythm-text.ts'
import { CheckRuns } from './CheckRuns.tsx'
import { useSite } from '../../ui/site-context.ts'
import { useActing } from '../../ui/use-act.ts'

const ownZone = Intl.DateTimeFormat().resolvedOptions().timeZone
const zones = [...new Set(['UTC', ownZone, ...Intl.supportedValuesOf('timeZone')])]

export const useCheckTimes = () => {
  const { site } = useSite()
  return useEndpoint(listCheckSchedules, { siteId: site.id })
}

/** When positions are checked by themselves, market by market. Every choice counts at once. */
export function CheckTimes({ tracked, onClose }: { tracked: number; onClose(): void }) {
  const { site } = useSite()
  const { act, pending: saving } = useActing()
  const { data, error, refetch } = useCheckTimes()
  const save = (work: () => Promise<unknown>) =>
    act(async () => {
      await work()
      await refetch()
    })
  const of = (marketId: number) => data?.schedules.find(each => each.marketId === marketId)
  const setRhythm = (marketId: number, rhythm: Rhythm | null) =>
    save(() => call(setCheckSchedule, { siteId: site.id, marketId, rhythm }))
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="md">
      <DialogTitle>When positions are checked</DialogTitle>
      <DialogContent sx={{ display: 'flex', flexDirection: 'column', gap: 4 }}>
        <p className="quiet">
          A check asks the engine once for each tracked keyword of the market's language
          {tracked ? `, now ${tracked.toLocaleString('en')}` : ''}. A time that was missed because the program did not
          run is caught up once.
        </p>
        {error && <p role="alert">{error.message}</p>}
        {data && (
          <>
            <table className="results whole-cells">
              <thead>
                <tr>
                  <th>Market</th>
                  <th>How often</th>
                  <th>Day</th>
                  <th>Hour</th>
                  <th>Next</th>
                  <th>Last</th>
                </tr>
              </thead>
              <tbody>
                {site.markets.map(market => {
                  const schedule = of(market.id)
                  const rhythm = schedule?.rhythm ?? null
                  const name = formatMarket(market)
                  return (
                    <tr key={market.id}>
                      <td>{name}</td>
                      <RhythmCells
                        rhythm={rhythm}
                        of={`${name} is checked`}
                        disabled={saving}
                        onChange={next => setRhythm(market.id, next)}
                      />
                      <td title={rhythm ? rhythmText(rhythm) : ''}>
                        {schedule ? momentText(schedule.nextAt, data.timeZone) : ''}
                      </td>
                      <td>
                        {schedule?.lastAt
                          ? `${momentText(schedule.lastAt, data.timeZone)}${schedule.wasLate ? ', late' : ''}`
                          : ''}
                        {schedule?.lastError && <div role="alert">{schedule.lastError}</div>}
                      </td>
                    </tr>
                  )
                })}
              </tbody>
            </table>
            <Autocomplete
              options={zones.includes(data.timeZone) ? zones : [data.timeZone, ...zones]}
              value={data.timeZone}
              disableClearable
              disabled={saving}
              onChange={(_, timeZone) => save(() => call(setTimeZone, { siteId: site.id, timeZone }))}
              renderInput={props => (
                <TextField {...props} label="Time zone of the hours" helperText="For all times of this site" />
              )}
              sx={{ maxWidth: 360, mt: 2 }}
            />
            <CheckRuns timeZone={data.timeZone} />
          </>
        )}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Close</Button>
      </DialogActions>
    </Dialog>
  )
}
