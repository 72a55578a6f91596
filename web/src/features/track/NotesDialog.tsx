import { addNote, changeNote, type Note, removeNote } from '@dew-trail/contract/notes'
import { Button, Dialog, DialogActions, DialogContent, DialogTitle, TextField } from '@mui/material'
import { type FormEvent, useState } from 'react'
import { call } from '../../api/call.ts'
import { formatDay, today } from '../../ui/format.ts'
import { useSite } from '../../ui/site-context.ts'
import { useAct } from '../../ui/use-act.ts'

/** What happened on which day: written, changed and removed here, drawn on the line of visibility. */
export function NotesDialog({ notes, onChange, onClose }: { notes: Note[]; onChange(): void; onClose(): void }) {
  const { site } = useSite()
  const act = useAct()
  const [edited, setEdited] = useState<Note | null>(null)
  const [day, setDay] = useState(today())
  const [text, setText] = useState('')
  const [saving, setSaving] = useState(false)
  const begin = (note: Note | null) => {
    setEdited(note)
    setDay(note?.day ?? today())
    setText(note?.text ?? '')
  }
  const save = async (event: FormEvent) => {
    event.preventDefault()
    setSaving(true)
    await act(async () => {
      if (edited) await call(changeNote, { siteId: site.id, noteId: edited.id, day, text, version: edited.version })
      else await call(addNote, { siteId: site.id, day, text })
      begin(null)
    })
    onChange()
    setSaving(false)
  }
  const remove = (note: Note) =>
    act(async () => {
      const { actId } = await call(removeNote, { siteId: site.id, noteId: note.id })
      if (edited?.id === note.id) begin(null)
      onChange()
      return { say: `The note of ${formatDay(note.day)} is removed`, actId }
    })
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="sm">
      <DialogTitle>Notes</DialogTitle>
      <DialogContent sx={{ display: 'flex', flexDirection: 'column', gap: 3, pt: '8px !important' }}>
        <form onSubmit={event => void save(event)} style={{ display: 'flex', gap: 8, alignItems: 'center' }}>
          <TextField
            type="date"
            label="Day"
            sx={{ flexShrink: 0, width: 158 }}
            value={day}
            required
            onChange={event => setDay(event.target.value)}
            slotProps={{ inputLabel: { shrink: true } }}
          />
          <TextField
            autoFocus
            label="What happened"
            value={text}
            required
            fullWidth
            onChange={event => setText(event.target.value)}
            slotProps={{ htmlInput: { maxLength: 500 } }}
          />
          <Button type="submit" variant="contained" disabled={saving || !text.trim()} sx={{ flexShrink: 0 }}>
            {edited ? 'Save' : 'Add'}
          </Button>
        </form>
        {notes.length ? (
          <ul className="notes">
            {notes.map(note => (
              <li key={note.id}>
                <span className="quiet">{formatDay(note.day)}</span>
                <span>{note.text}</span>
                <button type="button" className="link" onClick={() => begin(note)} aria-label={`Change "${note.text}"`}>
                  Change
                </button>
                <button
                  type="button"
                  className="link"
                  onClick={() => void remove(note)}
                  aria-label={`Remove "${note.text}"`}
                >
                  Remove
                </button>
              </li>
            ))}
          </ul>
        ) : (
          <p className="quiet">
            None yet. A new shop, a new text, an engine's change: what stands here is seen on the line of visibility.
          </p>
        )}
      </DialogContent>
      <DialogActions>
        {edited && <Button onClick={() => begin(null)}>Leave it as it was</Button>}
        <Button onClick={onClose}>Close</Button>
      </DialogActions>
    </Dialog>
  )
}
