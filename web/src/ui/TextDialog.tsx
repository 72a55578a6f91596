import { Button, Dialog, DialogActions, DialogContent, DialogTitle, TextField } from '@mui/material'
import { useState } from 'react'

type Props = {
  title: string
  /** What is asked for. */
  label: string
  /** What stands there now. */
  text: string
  help?: string
  most: number
  /** Whether nothing may be saved too. */
  optional?: boolean
  onSave(text: string): void
  onClose(): void
}
/** Asks for one line of text, such as a name. */
export default function TextDialog({
  title,
  label,
  text: before,
  help,
  most,
  optional = false,
  onSave,
  onClose,
}: Props) {
  const [text, setText] = useState(before)
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="xs">
      <form
        onSubmit={event => {
          event.preventDefault()
          onClose()
          onSave(text.trim())
        }}
      >
        <DialogTitle>{title}</DialogTitle>
        <DialogContent>
          <TextField
            autoFocus
            fullWidth
            label={label}
            value={text}
            onChange={event => setText(event.target.value)}
            helperText={help}
            slotProps={{ htmlInput: { maxLength: most } }}
            sx={{ mt: 1 }}
          />
        </DialogContent>
        <DialogActions>
          <Button onClick={onClose}>Cancel</Button>
          <Button type="submit" variant="contained" disabled={!optional && !text.trim()}>
            Save
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  )
}
