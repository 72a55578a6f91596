import { listLinkSources } from '@dew-trail/contract/link-lists'
import { MenuItem, TextField } from '@mui/material'
import { useEndpoint } from '../../api/use-endpoint.ts'
import { useSite } from '../../ui/site-context.ts'
import { setParam, useAddress } from '../../ui/use-address.ts'

/** Of which sources links count: of all, or of those that are chosen. */
export function SourceChoice({ sources }: { sources: readonly string[] }) {
  const { site } = useSite()
  const [, change] = useAddress()
  const { data } = useEndpoint(listLinkSources, { siteId: site.id })
  const known = data ?? sources.map(name => ({ name, label: name }))
  const labels = new Map(known.map(({ name, label }) => [name, label]))
  return (
    <TextField
      select
      value={[...sources]}
      sx={{ minWidth: 130, maxWidth: 220 }}
      onChange={event => {
        const chosen = (event.target.value as unknown as string[]).filter(name => labels.has(name))
        change(setParam('sources', chosen.length && chosen.length < known.length ? chosen.join(',') : null), true)
      }}
      slotProps={{
        htmlInput: { 'aria-label': 'Links that these sources know of' },
        select: {
          multiple: true,
          displayEmpty: true,
          renderValue: value => {
            const chosen = value as string[]
            return chosen.length ? chosen.map(name => labels.get(name) ?? name).join(', ') : 'all sources'
          },
        },
      }}
    >
      {known.map(({ name, label }) => (
        <MenuItem key={name} value={name}>
          {label}
        </MenuItem>
      ))}
    </TextField>
  )
}
