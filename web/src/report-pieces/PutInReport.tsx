import type { Section } from '@dew-trail/contract/reports'
import { Button, Dialog, DialogActions, DialogContent, DialogTitle, TextField } from '@mui/material'
import { type FormEvent, useState } from 'react'
import { useAct } from '../ui/use-act.ts'
import { useChange } from '../ui/use-change.ts'
import { useReports } from './use-reports.tsx'

type Props = { table: NonNullable<Section['table']>; title: string; onClose(): void }

/** Puts a table as it is shown, its conditions, order and columns, into a report as a section that fills itself. */
export default function PutInReport({ table, title, onClose }: Props) {
  const act = useAct()
  const saving = useChange()
  const { choice, put, isThere } = useReports()
  const [name, setName] = useState(title)
  const save = (event: FormEvent) => {
    event.preventDefault()
    void saving.run(() =>
      act(async () => {
        const done = await put([{ kind: 'view', title: name.trim(), table }], name.trim())
        onClose()
        return done
      }),
    )
  }
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="xs">
      <form onSubmit={save}>
        <DialogTitle>Put into a report</DialogTitle>
        <DialogContent sx={{ display: 'flex', flexDirection: 'column', gap: 2, pt: '8px !important' }}>
          {choice}
          <TextField
            autoFocus
            label="Title of the section"
            value={name}
            required
            onChange={event => setName(event.target.value)}
            slotProps={{ htmlInput: { maxLength: 120 } }}
            helperText="With the conditions, order and columns that are shown; its rows are those of the day it is issued."
          />
        </DialogContent>
        <DialogActions>
          <Button onClick={onClose}>Cancel</Button>
          <Button type="submit" variant="contained" disabled={saving.pending || !isThere || !name.trim()}>
            Put it in
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  )
}
