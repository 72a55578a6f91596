import { MenuItem, TextField } from '@mui/material'
import { useEffect, useRef } from 'react'
import { isText } from '../ui/is-text.ts'
import { setParam, useAddress } from '../ui/use-address.ts'

/** Which of the compared sites a table is of: the address says so, else the own one. */
export function useTarget(targets: readonly string[]): string {
  const [params] = useAddress()
  const of = params.get('of')
  return of ?? targets[0]!
}

/** The keys 1 to 9 and 0 look at the first to the tenth of the compared sites, the own one first, where a table is of one of them. */
export function useTargetKeys(targets: readonly string[], on: boolean): void {
  const [, change] = useAddress()
  const latest = useRef<(event: KeyboardEvent) => void>(() => undefined)
  latest.current = event => {
    if (!on || event.ctrlKey || event.metaKey || event.altKey || !/^\d$/.test(event.key) || isText(event.target)) return
    if (document.querySelector('.MuiDialog-root, .MuiPopover-root')) return
    const at = (Number(event.key) + 9) % 10
    const target = targets[at]
    if (target) change(setParam('of', at ? target : null), true)
  }
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => latest.current(event)
    window.addEventListener('keydown', onKey)
    return () => window.removeEventListener('keydown', onKey)
  }, [])
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
      title="The keys 1 to 9 look at one after the other"
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
