import { createSite, listSites } from '@dew-trail/contract/sites'
import { type Engine, listEngines } from '@dew-trail/contract/sources'
import { Button, Dialog, DialogActions, DialogContent, DialogTitle, MenuItem, TextField } from '@mui/material'
import { useQueryClient } from '@tanstack/react-query'
import { type FormEvent, useMemo, useState } from 'react'
import { useNavigate } from 'react-router'
import { call } from '../api/call.ts'
import { useEndpoint, askAgain } from '../api/use-endpoint.ts'
import { useChange } from '../ui/use-change.ts'

type Offer = { key: string; place: string; language: string; label: string; engines: string[] }
/** Places and languages that can be searched, each with the engines that offer it. */
function offersOf(engines: readonly Engine[]): Offer[] {
  const offers = new Map<string, Offer>()
  for (const engine of engines)
    for (const { place, name, country, languages } of engine.places)
      for (const { language, name: languageName } of languages) {
        const key = `${place} ${language}`
        const label = `${name}${country === name ? '' : `, ${country}`}, ${languageName}`
        const offer = offers.get(key) ?? { key, place, language, label, engines: [] }
        offer.engines.push(engine.name)
        offers.set(key, offer)
      }
  return [...offers.values()]
}

export function AddSite({ onClose }: { onClose(): void }) {
  const [domain, setDomain] = useState('')
  const [name, setName] = useState('')
  const [chosen, setChosen] = useState<string | null>(null)
  const { data: engines, error: noEngines } = useEndpoint(listEngines, {})
  const offers = useMemo(() => offersOf(engines ?? []), [engines])
  const offer = offers.find(each => each.key === chosen) ?? offers[0]
  const [error, setError] = useState<string | null>(null)
  const client = useQueryClient()
  const navigate = useNavigate()
  const adding = useChange()
  const save = async (): Promise<void> => {
    try {
      const site = await call(createSite, {
        domain,
        name: name || domain,
        ...(offer ? { place: offer.place, language: offer.language } : {}),
        timeZone: Intl.DateTimeFormat().resolvedOptions().timeZone,
      })
      await askAgain(client, listSites)
      onClose()
      navigate(`/${site.id}/gather`)
    } catch (failure) {
      setError((failure as Error).message)
    }
  }
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="xs">
      <form
        onSubmit={(event: FormEvent) => {
          event.preventDefault()
          void adding.run(save)
        }}
      >
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
            value={offer?.key ?? ''}
            onChange={event => setChosen(event.target.value)}
            error={noEngines !== null}
            helperText={
              noEngines?.message ??
              (offer ? `Searched on ${offer.engines.join(' and ')}, desktop and mobile` : 'Loading')
            }
          >
            {offers.map(each => (
              <MenuItem key={each.key} value={each.key}>
                {each.label}
              </MenuItem>
            ))}
          </TextField>
        </DialogContent>
        <DialogActions>
          <Button onClick={onClose}>Close</Button>
          <Button type="submit" variant="contained" disabled={adding.pending}>
            Add
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  )
}
