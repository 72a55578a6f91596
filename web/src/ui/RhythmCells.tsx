import type { Rhythm } from '@dew-trail/contract/schedules'
import { MenuItem, Select } from '@mui/material'
import { changeEvery, type Every, weekdays } from './rhythm-text.ts'

const every: Array<[Every, string]> = [
  ['never', 'Only when asked'],
  ['day', 'Every day'],
  ['week', 'Every week'],
  ['month', 'Every month'],
]
const numbers = (from: number, to: number): number[] => Array.from({ length: to - from + 1 }, (_, i) => from + i)

type Props = {
  rhythm: Rhythm | null
  /** What comes round, as the end of "How often …". */
  of: string
  disabled: boolean
  onChange(rhythm: Rhythm | null): void
}
/** Three cells of a table row in which a rhythm is chosen: how often, on which day, at which hour. */
export function RhythmCells({ rhythm, of, disabled, onChange }: Props) {
  return (
    <>
      <td>
        <Select
          size="small"
          disabled={disabled}
          value={rhythm?.every ?? 'never'}
          onChange={event => onChange(changeEvery(rhythm, event.target.value as Every))}
          slotProps={{ input: { 'aria-label': `How often ${of}` } }}
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
            disabled={disabled}
            value={rhythm.every === 'week' ? rhythm.weekday : rhythm.dayOfMonth}
            onChange={({ target: { value } }) =>
              onChange(
                rhythm.every === 'week'
                  ? { ...rhythm, weekday: Number(value) }
                  : { ...rhythm, dayOfMonth: Number(value) },
              )
            }
            slotProps={{ input: { 'aria-label': `Day on which ${of}` } }}
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
            disabled={disabled}
            value={rhythm.hour}
            onChange={event => onChange({ ...rhythm, hour: Number(event.target.value) })}
            slotProps={{ input: { 'aria-label': `Hour at which ${of}` } }}
          >
            {numbers(0, 23).map(hour => (
              <MenuItem key={hour} value={hour}>
                {String(hour).padStart(2, '0')}:00
              </MenuItem>
            ))}
          </Select>
        )}
      </td>
    </>
  )
}
