import { listLists } from '@dew-trail/contract/lists'
import { addNote, changeNote, listNotes, type Note, removeNote } from '@dew-trail/contract/notes'
import { readEffect } from '@dew-trail/contract/track-changes'
import { Button, Dialog, DialogActions, DialogContent, DialogTitle, MenuItem, TextField } from '@mui/material'
import { type FormEvent, useState } from 'react'
import { call } from '../../api/call.ts'
import { useEndpoint } from '../../api/use-endpoint.ts'
import { Waiting } from '../../api/Waiting.tsx'
import { formatDay, formatMarket, formatOne, today } from '../../ui/format.ts'
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
  const { data: lists } = useEndpoint(listLists, { siteId: site.id })
  const labels = (lists ?? []).filter(each => each.kind === 'label')
  const [address, setAddress] = useState('')
  const [listId, setListId] = useState<number | ''>('')
  const abouts = {
    site: { label: 'The whole site', touches: {} },
    market: { label: formatMarket(market), touches: { marketId: market.id } },
    page: { label: 'A page', touches: { address: pageUrl(address, site.domain) } },
    label: { label: 'A label', touches: { listId: listId || undefined } },
    keyword: { label: keyword?.phrase ?? '', touches: { keywordId: keyword?.id } },
  }
  const offered = (['site', 'market', 'page', 'label', 'keyword'] as const).filter(
    each => (each !== 'keyword' || keyword) && (each !== 'label' || labels.length),
  )
  const missing = (about === 'page' && !abouts.page.touches.address) || (about === 'label' && !listId)
  const aboutOf = (note: Note): string | null => {
    const named = site.markets.find(each => each.id === note.touches.marketId)
    return note.about ?? (named ? formatMarket(named) : null)
  }
  const act = useAct()
  const [edited, setEdited] = useState<Note | null>(null)
  const [day, setDay] = useState(today())
  const [text, setText] = useState('')
  const saving = useChange()
  const [openNote, setOpenNote] = useState<number | null>(null)
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
          {!edited && about === 'page' && (
            <TextField
              label="Address"
              placeholder="/glazes"
              value={address}
              required
              sx={{ width: 170, flexShrink: 0 }}
              onChange={event => setAddress(event.target.value)}
            />
          )}
          {!edited && about === 'label' && (
            <TextField
              select
              label="Label"
              value={listId}
              required
              sx={{ width: 150, flexShrink: 0 }}
              onChange={event => setListId(Number(event.target.value))}
            >
              {labels.map(each => (
                <MenuItem key={each.id} value={each.id}>
                  {each.name}
                </MenuItem>
              ))}
            </TextField>
          )}
          <Button
            type="submit"
            variant="contained"
            disabled={saving.pending || !text.trim() || (!edited && missing)}
            sx={{ flexShrink: 0 }}
          >
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
                  {openNote === note.id && <Effect noteId={note.id} />}
                </span>
                <button
                  type="button"
                  className="link"
                  aria-expanded={openNote === note.id}
                  aria-label={`Did it help? "${note.text}"`}
                  onClick={() => setOpenNote(openNote === note.id ? null : note.id)}
                >
                  Did it help?
                </button>
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

/** The address of an own page as typed, a path or whole; undefined where it is none. */
function pageUrl(typed: string, domain: string): string | undefined {
  const text = typed.trim()
  if (!text) return undefined
  const url = text.startsWith('/') ? `https://${domain}${text}` : /^https?:\/\//i.test(text) ? text : `https://${text}`
  return URL.canParse(url) ? url : undefined
}

/** Whether what a note tells of moved the keywords that it touches. */
function Effect({ noteId }: { noteId: number }) {
  const { site, market } = useSite()
  const { data, error } = useEndpoint(readEffect, { siteId: site.id, noteId, marketId: market.id })
  if (error) return <p className="fall">{error.message}</p>
  if (!data) return <p className="quiet">Comparing</p>
  const known = data.effect.kind === 'known' ? data.effect : null
  return (
    <p style={{ margin: '4px 0' }}>
      {data.sentence}
      {known && (
        <small className="quiet">
          {' '}
          Mean place {formatOne(known.before)} before, {formatOne(known.after)} after, {formatOne(known.without)}{' '}
          without it; as much is seen in {formatOne(known.chance * 100)}% of changes that do nothing.{' '}
          {formatMarket(market)}.
        </small>
      )}
    </p>
  )
}
