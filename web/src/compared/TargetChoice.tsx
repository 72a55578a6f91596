import { MenuItem, TextField } from '@mui/material'
import { setParam, useAddress } from '../ui/use-address.ts'

/** Which of the compared sites a table is of: the address says so, else the own one. */
export function useTarget(targets: readonly string[]): string {
  const [params] = useAddress()
  const of = params.get('of')
  return of ?? targets[0]!
}

export function TargetChoice({ targets, target }: { targets: readonly string[]; target: string }) {
  const [, change] = useAddress()
  const offered = targets.includes(target) ? targets : [...targets, target]
  return (
    <TextField
      select
      value={target}
      onChange={event => change(setParam('of', event.target.value === targets[0] ? null : event.target.value), true)}
      slotProps={{ htmlInput: { 'aria-label': 'Of which site' } }}
      sx={{ minWidth: 150, maxWidth: 300 }}
    >
      {offered.map(each => (
        <MenuItem key={each} value={each}>
          {each === targets[0] ? `${each} (you)` : each}
        </MenuItem>
      ))}
    </TextField>
  )
}
