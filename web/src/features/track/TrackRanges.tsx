import { MenuItem, Select } from '@mui/material'

const comparisons = [1, 7, 30, 90, 365]
const ranges = [30, 90, 180, 400]

type Props = { days: number; compareDays: number; onChange(key: 'days' | 'compare', value: string): void }
/** How far back pictures go, and which day positions are compared with. */
export function TrackRanges({ days, compareDays, onChange }: Props) {
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
        {comparisons.map(each => (
          <MenuItem key={each} value={each}>
            Compare with {each === 1 ? 'the day' : `${each} days`} before
          </MenuItem>
        ))}
      </Select>
    </>
  )
}
