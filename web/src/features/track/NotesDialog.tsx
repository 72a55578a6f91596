import { addNote, changeNote, listNotes, type Note, removeNote } from '@dew-trail/contract/notes'
import { Button, Dialog, DialogActions, DialogContent, DialogTitle, MenuItem, TextField } from '@mui/material'
import { type FormEvent, useState } from 'react'
import { call } from '../../api/call.ts'
import { useEndpoint } from '../../api/use-endpoint.ts'
import { Waiting } from '../../api/Waiting.tsx'
import { formatDay, formatMarket, today } from '../../ui/format.ts'
import { useSite } from '../../ui/site-context.ts'
import { useAct } from '../../ui/use-act.ts'
import { useChange } from '../../ui/use-change.ts'

type Props = {
  /** A keyword that a new note is about, unless something else is chosen. */
  keyword?: { id: number; phrase: string }
  onClose(): void
}
/** What happened on which day and what it is about: written, changed and removed here, drawn on lines over time. */
export default function NotesDialog({ keyword, onClose }: Props) {
  const { site, market } = useSite()
  const { data: notes, error } = useEndpoint(listNotes, { siteId: site.id })
  const [about, setAbout] = useState<keyof typeof abouts>(keyword ? 'keyword' : 'site')
  const abouts = {
    site: { label: 'The whole site', touches: {} },
    market: { label: formatMarket(market), touches: { marketId: market.id } },
    keyword: { label: keyword?.phrase ?? '', touches: { keywordId: keyword?.id } },
  }
  const offered = keyword ? (['site', 'market', 'keyword'] as const) : (['site', 'market'] as const)
  const aboutOf = (note: Note): string | null => {
    const named = site.markets.find(each => each.id === note.touches.marketId)
    return note.about ?? (named ? formatMarket(named) : null)
  }
  const act = useAct()
  const [edited, setEdited] = useState<Note | null>(null)
  const [day, setDay] = useState(today())
  const [text, setText] = useState('')
  const saving = useChange()
  const begin = (note: Note | null) => {
    setEdited(note)
    setDay(note?.day ?? today())
    setText(note?.text ?? '')
  }
  const save = (): Promise<void> =>
    act(async () => {
      if (edited) await call(changeNote, { siteId: site.id, noteId: edited.id, day, text, version: edited.version })
      else await call(addNote, { siteId: site.id, day, text, ...abouts[about].touches })
      begin(null)
    })
  const remove = (note: Note) =>
    act(async () => {
      const { actId } = await call(removeNote, { siteId: site.id, noteId: note.id })
      if (edited?.id === note.id) begin(null)
      return { say: `The note of ${formatDay(note.day)} is removed`, actId }
    })
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="md">
      <DialogTitle>Notes</DialogTitle>
      <DialogContent sx={{ display: 'flex', flexDirection: 'column', gap: 3, pt: '8px !important' }}>
        <form
          onSubmit={(event: FormEvent) => {
            event.preventDefault()
            void saving.run(save)
          }}
          style={{ display: 'flex', gap: 8, alignItems: 'center' }}
        >
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
          {!edited && (
            <TextField
              select
              label="About"
              value={about}
              sx={{ flexShrink: 0, width: 170 }}
              onChange={event => setAbout(event.target.value as typeof about)}
            >
              {offered.map(each => (
                <MenuItem key={each} value={each}>
                  {abouts[each].label}
                </MenuItem>
              ))}
            </TextField>
          )}
          <Button type="submit" variant="contained" disabled={saving.pending || !text.trim()} sx={{ flexShrink: 0 }}>
            {edited ? 'Save' : 'Add'}
          </Button>
        </form>
        {!notes && <Waiting error={error} />}
        {notes && notes.length > 0 && (
          <ul className="notes">
            {notes.map(note => (
              <li key={note.id}>
                <span className="quiet">{formatDay(note.day)}</span>
                <span>
                  {note.text}
                  {aboutOf(note) && <small className="quiet"> {aboutOf(note)}</small>}
                </span>
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
        )}
        {notes?.length === 0 && (
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
