import { listThemes } from '@dew-trail/contract/group'
import { Autocomplete, Button, Dialog, DialogActions, DialogContent, DialogTitle, TextField } from '@mui/material'
import { useState } from 'react'
import { useEndpoint } from '../../api/use-endpoint.ts'
import { formatWhole } from '../../ui/format.ts'

type Props = {
  one: { siteId: number; groupingId: number }
  title: string
  /** Themes that are not offered. */
  without?: readonly number[]
  done: string
  onChoose(theme: { id: number; name: string }): void
  onClose(): void
}
/** Asks for a theme by its name: the first that begins so is chosen by Enter. */
export default function MoveDialog({ one, title, without = [], done, onChoose, onClose }: Props) {
  const { data } = useEndpoint(listThemes, one)
  const [chosen, setChosen] = useState<number | null>(null)
  const themes = (data?.rows ?? [])
    .filter(each => !without.includes(each.id))
    .map(each => ({ id: each.id, name: each.name ?? each.lead, keywords: each.keywords }))
  const theme = themes.find(each => each.id === chosen)
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="xs">
      <form
        onSubmit={event => {
          event.preventDefault()
          if (!theme) return
          onClose()
          onChoose(theme)
        }}
      >
        <DialogTitle>{title}</DialogTitle>
        <DialogContent>
          <Autocomplete
            options={themes}
            autoHighlight
            getOptionLabel={each => each.name}
            getOptionKey={each => each.id}
            value={theme ?? null}
            onChange={(_, value) => setChosen(value?.id ?? null)}
            renderOption={({ key, ...props }, each) => (
              <li key={key} {...props}>
                <span style={{ flex: 1 }}>{each.name}</span>
                <small className="quiet">{formatWhole(each.keywords)}</small>
              </li>
            )}
            renderInput={params => <TextField {...params} autoFocus label="Theme" sx={{ mt: 1 }} />}
          />
        </DialogContent>
        <DialogActions>
          <Button onClick={onClose}>Cancel</Button>
          <Button type="submit" variant="contained" disabled={!theme}>
            {done}
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  )
}
