import { Button, Dialog, DialogActions, DialogContent, DialogTitle, TextField } from '@mui/material'
import { useState } from 'react'

type Props = { title: string; name: string; help: string; onName(name: string): void; onClose(): void }
/** Asks for the name of a theme; empty means that it is called as its lead. */
export default function NameTheme({ title, name: before, help, onName, onClose }: Props) {
  const [name, setName] = useState(before)
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="xs">
      <form
        onSubmit={event => {
          event.preventDefault()
          onClose()
          onName(name.trim())
        }}
      >
        <DialogTitle>{title}</DialogTitle>
        <DialogContent>
          <TextField
            autoFocus
            fullWidth
            label="Name"
            value={name}
            onChange={event => setName(event.target.value)}
            helperText={help}
            slotProps={{ htmlInput: { maxLength: 200 } }}
            sx={{ mt: 1 }}
          />
        </DialogContent>
        <DialogActions>
          <Button onClick={onClose}>Cancel</Button>
          <Button type="submit" variant="contained">
            Save
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  )
}
