import type { KeywordList, ListKind } from '@dew-trail/contract/lists'
import { Button, Dialog, DialogActions, DialogContent, DialogTitle, TextField } from '@mui/material'
import { type FormEvent, useState } from 'react'
import { plural } from '../ui/format.ts'
import { useLists } from './use-lists.ts'

/** Renames and removes lists of a kind. */
export function ListsDialog({ kind, title, onClose }: { kind: ListKind; title: string; onClose(): void }) {
  const { lists, rename, remove } = useLists(kind)
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="xs">
      <DialogTitle>{title}</DialogTitle>
      <DialogContent sx={{ display: 'flex', flexDirection: 'column', gap: 2, pt: '8px !important' }}>
        {lists.map(list => (
          <ListLine key={list.id} list={list} onRename={rename} onRemove={remove} />
        ))}
        {!lists.length && <p className="quiet">None is left.</p>}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Close</Button>
      </DialogActions>
    </Dialog>
  )
}

type Props = {
  list: KeywordList
  onRename(list: KeywordList, name: string): Promise<void>
  onRemove(list: KeywordList): Promise<void>
}
function ListLine({ list, onRename, onRemove }: Props) {
  const [name, setName] = useState(list.name)
  const isNew = name.trim() !== '' && name.trim() !== list.name
  const save = (event: FormEvent) => {
    event.preventDefault()
    if (isNew) void onRename(list, name.trim())
  }
  return (
    <form onSubmit={save} style={{ display: 'flex', gap: 8, alignItems: 'center' }}>
      <TextField
        value={name}
        fullWidth
        onChange={event => setName(event.target.value)}
        slotProps={{ htmlInput: { 'aria-label': `Name of ${list.name}`, maxLength: 80 } }}
      />
      <small className="quiet" style={{ whiteSpace: 'nowrap' }}>
        {plural(list.keywords, 'keyword')}
      </small>
      <Button type="submit" disabled={!isNew}>
        Rename
      </Button>
      <Button onClick={() => void onRemove(list)} aria-label={`Remove ${list.name}`}>
        Remove
      </Button>
    </form>
  )
}
