import { createSite } from '@dew-trail/contract/sites'
import { Button, Dialog, DialogActions, DialogContent, DialogTitle, MenuItem, TextField } from '@mui/material'
import { useQueryClient } from '@tanstack/react-query'
import { type FormEvent, useState } from 'react'
import { useNavigate } from 'react-router'
import { call } from '../api/call.ts'

const places = [
  { place: 'tarrow', language: 'en', label: 'Tarrow, English' },
  { place: 'verlau', language: 'de', label: 'Verlau, German' },
]

export function AddSite({ onClose }: { onClose(): void }) {
  const [domain, setDomain] = useState('')
  const [name, setName] = useState('')
  const [place, setPlace] = useState('tarrow')
  const [error, setError] = useState<string | null>(null)
  const client = useQueryClient()
  const navigate = useNavigate()
  const save = async (event: FormEvent) => {
    event.preventDefault()
    try {
      const site = await call(createSite, {
        domain,
        name: name || domain,
        place,
        language: places.find(each => each.place === place)!.language,
      })
      await client.invalidateQueries({ queryKey: ['sites'] })
      onClose()
      navigate(`/${site.id}/gather`)
    } catch (failure) {
      setError((failure as Error).message)
    }
  }
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="xs">
      <form onSubmit={save}>
        <DialogTitle>Add a site</DialogTitle>
        <DialogContent sx={{ display: 'flex', flexDirection: 'column', gap: 4, pt: '8px !important' }}>
          <TextField
            autoFocus
            label="Domain"
            placeholder="name.example"
            value={domain}
            onChange={event => {
              setDomain(event.target.value)
              setError(null)
            }}
            error={error !== null}
            helperText={error}
            required
          />
          <TextField label="Name" value={name} onChange={event => setName(event.target.value)} />
          <TextField
            select
            label="Place and language"
            value={place}
            onChange={event => setPlace(event.target.value)}
            helperText="Both engines, desktop and mobile"
          >
            {places.map(each => (
              <MenuItem key={each.place} value={each.place}>
                {each.label}
              </MenuItem>
            ))}
          </TextField>
        </DialogContent>
        <DialogActions>
          <Button onClick={onClose}>Close</Button>
          <Button type="submit" variant="contained">
            Add
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  )
}
