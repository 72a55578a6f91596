import { strongholds } from '@dew-trail/core/places/strongholds'
import { MenuItem, TextField } from '@mui/material'
import { setParam, useAddress } from '../../ui/use-address.ts'
import type { Results, useSubject } from './use-place.ts'

/** Businesses that are offered besides the own: those that lead most points. */
const mostOffered = 12

/** Whose positions are shown: the best of the own, one of them, or somebody else. */
export function SubjectChoice({ results, subject }: { results: Results; subject: ReturnType<typeof useSubject> }) {
  const [, change] = useAddress()
  const { one, own } = subject
  const byNumber = new Map(results.businesses.map(each => [each.number, each]))
  const others = strongholds(
    [],
    results.points.map(listed => listed ?? []),
    () => undefined,
    0,
  )
    .map(each => byNumber.get(each.business)!)
    .filter(each => !each.own)
    .slice(0, mostOffered)
  if (one && !one.own && !others.includes(one)) others.unshift(one)
  return (
    <TextField
      select
      fullWidth
      value={one?.number ?? ''}
      onChange={event => change(setParam('of', event.target.value ? String(event.target.value) : null), true)}
      slotProps={{ htmlInput: { 'aria-label': 'Whose positions' }, select: { displayEmpty: true } }}
    >
      <MenuItem value="">
        {own.length > 1 ? `The best of yours (${own.length})` : `${own[0]?.name ?? 'Yours'} (yours)`}
      </MenuItem>
      {own.length > 1 &&
        own.map(each => (
          <MenuItem key={each.number} value={each.number}>
            {each.name} (yours)
          </MenuItem>
        ))}
      {others.map(each => (
        <MenuItem key={each.number} value={each.number}>
          {each.name}
          {each.rival ? ' (rival)' : ''}
        </MenuItem>
      ))}
    </TextField>
  )
}
