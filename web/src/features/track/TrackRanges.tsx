import { MenuItem, Select } from '@mui/material'

const comparisons = [1, 7, 30, 90, 365]
const ranges = [30, 90, 180, 400]

type Props = {
  days: number
  compareDays: number
  /** The last checked day, from which days are counted; null where there is none. */
  lastDay: string | null
  onChange(key: 'days' | 'compare', value: string): void
}
/** How far back pictures go, and which day positions are compared with. */
export function TrackRanges({ days, compareDays, lastDay, onChange }: Props) {
  return (
    <>
      <Select
        size="small"
        value={days}
        onChange={event => onChange('days', String(event.target.value))}
        slotProps={{ input: { 'aria-label': 'Range of the pictures' } }}
      >
        {ranges.map(each => (
          <MenuItem key={each} value={each}>
            Last {each} days
          </MenuItem>
        ))}
      </Select>
      <Select
        size="small"
        value={compareDays}
        onChange={event => onChange('compare', String(event.target.value))}
        slotProps={{ input: { 'aria-label': 'Compare with' } }}
      >
        {!comparisons.includes(compareDays) && (
          <MenuItem value={compareDays}>Compare with {compareDays} days before</MenuItem>
        )}
        {comparisons.map(each => (
          <MenuItem key={each} value={each}>
            Compare with {each === 1 ? 'the day' : `${each} days`} before
          </MenuItem>
        ))}
      </Select>
      {lastDay && (
        <input
          type="date"
          className="typed-line"
          style={{ width: 126 }}
          aria-label="Compare with the day"
          title="Compare with any day"
          value={dayBefore(lastDay, compareDays)}
          max={dayBefore(lastDay, 1)}
          onChange={event => {
            const between = Math.round((Date.parse(lastDay) - Date.parse(event.target.value)) / 86_400_000)
            if (between >= 1 && between <= 400) onChange('compare', String(between))
          }}
        />
      )}
    </>
  )
}

const dayBefore = (day: string, days: number): string =>
  new Date(Date.parse(day) - days * 86_400_000).toISOString().slice(0, 10)
