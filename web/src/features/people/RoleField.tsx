import { type SiteRole, siteRoles } from '@dew-trail/contract/people'
import { MenuItem, TextField } from '@mui/material'

export const roleSays: Record<SiteRole, string> = {
  reader: 'Reader: sees everything of the site, changes nothing',
  editor: 'Editor: gathers, weighs, plans, tracks, writes reports',
  owner: 'Owner: also people, keys, markets and settings of the site',
}

/** What somebody, or a program, may do, with what that means below. */
export const RoleField = ({ role, onChange }: { role: SiteRole; onChange(role: SiteRole): void }) => (
  <TextField
    select
    label="May"
    value={role}
    onChange={event => onChange(event.target.value as SiteRole)}
    helperText={roleSays[role]}
    sx={{ width: 340 }}
  >
    {siteRoles.map(each => (
      <MenuItem key={each} value={each}>
        {each}
      </MenuItem>
    ))}
  </TextField>
)
