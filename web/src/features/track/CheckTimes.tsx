import { listCheckSchedules, type Rhythm, setCheckSchedule, setTimeZone } from '@dew-trail/contract/schedules'
import {
  Autocomplete,
  Button,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  MenuItem,
  Select,
  TextField,
} from '@mui/material'
import { useState } from 'react'
import { call } from '../../api/call.ts'
import { useEndpoint } from '../../api/use-endpoint.ts'
import { formatMarket } from '../../ui/format.ts'
import { useSite } from '../../ui/site-context.ts'
import { useAct } from '../../ui/use-act.ts'
import { changeEvery, type Every, rhythmText, weekdays } from './rhythm-text.ts'

const every: Array<[Every, string]> = [
  ['never', 'Only when asked'],
  ['day', 'Every day'],
  ['week', 'Every week'],
  ['month', 'Every month'],
]
const ownZone = Intl.DateTimeFormat().resolvedOptions().timeZone
const zones = [...new Set(['UTC', ownZone, ...Intl.supportedValuesOf('timeZone')])]
const numbers = (from: number, to: number): number[] => Array.from({ length: to - from + 1 }, (_, i) => from + i)

export const useCheckTimes = () => {
  const { site } = useSite()
  return useEndpoint(listCheckSchedules, { siteId: site.id })
}

/** When positions are checked by themselves, market by market. Every choice counts at once. */
export function CheckTimes({ tracked, onClose }: { tracked: number; onClose(): void }) {
  const { site } = useSite()
  const act = useAct()
  const { data, error, refetch } = useCheckTimes()
  const [saving, setSaving] = useState(false)
  const save = async (work: () => Promise<unknown>) => {
    setSaving(true)
    await act(async () => {
      await work()
      await refetch()
    })
    setSaving(false)
  }
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
                      <td>
                        <Select
                          size="small"
                          disabled={saving}
                          value={rhythm?.every ?? 'never'}
                          onChange={event => setRhythm(market.id, changeEvery(rhythm, event.target.value as Every))}
                          slotProps={{ input: { 'aria-label': `How often ${name} is checked` } }}
                        >
                          {every.map(([value, text]) => (
                            <MenuItem key={value} value={value}>
                              {text}
                            </MenuItem>
                          ))}
                        </Select>
                      </td>
                      <td>
                        {rhythm && rhythm.every !== 'day' && (
                          <Select
                            size="small"
                            disabled={saving}
                            value={rhythm.every === 'week' ? rhythm.weekday : rhythm.dayOfMonth}
                            onChange={({ target: { value } }) =>
                              setRhythm(
                                market.id,
                                rhythm.every === 'week'
                                  ? { ...rhythm, weekday: Number(value) }
                                  : { ...rhythm, dayOfMonth: Number(value) },
                              )
                            }
                            slotProps={{ input: { 'aria-label': `Day on which ${name} is checked` } }}
                          >
                            {(rhythm.every === 'week' ? numbers(1, 7) : numbers(1, 31)).map(day => (
                              <MenuItem key={day} value={day}>
                                {rhythm.every === 'week' ? weekdays[day - 1] : day}
                              </MenuItem>
                            ))}
                          </Select>
                        )}
                      </td>
                      <td>
                        {rhythm && (
                          <Select
                            size="small"
                            disabled={saving}
                            value={rhythm.hour}
                            onChange={event => setRhythm(market.id, { ...rhythm, hour: Number(event.target.value) })}
                            slotProps={{ input: { 'aria-label': `Hour at which ${name} is checked` } }}
                          >
                            {numbers(0, 23).map(hour => (
                              <MenuItem key={hour} value={hour}>
                                {String(hour).padStart(2, '0')}:00
                              </MenuItem>
                            ))}
                          </Select>
                        )}
                      </td>
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
          </>
        )}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Close</Button>
      </DialogActions>
    </Dialog>
  )
}

const momentText = (moment: string, timeZone: string): string =>
  new Date(moment).toLocaleString('en', {
    timeZone,
    weekday: 'short',
    day: 'numeric',
    month: 'short',
    hour: '2-digit',
    minute: '2-digit',
    hourCycle: 'h23',
  })
