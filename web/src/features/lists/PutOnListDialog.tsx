import { type ListKind, listKinds } from '@dew-trail/contract/lists'
import { Button, Dialog, DialogActions, DialogContent, DialogTitle, TextField } from '@mui/material'
import { plural } from '../../ui/format.ts'
import { type FormEvent, useState } from 'react'
import { useAct } from '../../ui/use-act.ts'
import { useLists } from '../../keywords/use-lists.ts'

const words: Record<ListKind, { title: string; make: string }> = {
  shortlist: { title: 'Shortlists', make: 'New shortlist' },
  label: { title: 'Labels', make: 'New label' },
}

/** Puts keywords on a shortlist or gives them a label, an old one or a new one; or takes them off again. */
export default function PutOnListDialog({ ids, onClose }: { ids: number[]; onClose(): void }) {
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="xs">
      <DialogTitle>List or label {plural(ids.length, 'keyword')}</DialogTitle>
      <DialogContent>
        {listKinds.map(kind => (
          <ListSection key={kind} kind={kind} ids={ids} onDone={onClose} />
        ))}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Close</Button>
      </DialogActions>
    </Dialog>
  )
}

function ListSection({ kind, ids, onDone }: { kind: ListKind; ids: number[]; onDone(): void }) {
  const [name, setName] = useState('')
  const { lists, put, takeOff, add } = useLists(kind)
  const act = useAct()
  const { title, make } = words[kind]
  const save = async (event: FormEvent) => {
    event.preventDefault()
    await act(async () => {
      const list = await add(name)
      setName('')
      onDone()
      await put(list, ids)
    })
  }
  return (
    <section aria-label={title} style={{ marginBottom: 12 }}>
      <h3 style={{ fontSize: 13, margin: '4px 0' }}>{title}</h3>
      {lists.map(list => (
        <div key={list.id} style={{ display: 'flex', alignItems: 'center', gap: 8, minHeight: 30 }}>
          <Button
            sx={{ flex: 1, minWidth: 0, justifyContent: 'flex-start' }}
            color="inherit"
            onClick={() => {
              onDone()
              void put(list, ids)
            }}
          >
            <span style={{ overflow: 'hidden', textOverflow: 'ellipsis' }}>{list.name}</span>
            <small className="quiet">&nbsp;{list.keywords}</small>
          </Button>
          {list.keywords > 0 && (
            <Button
              aria-label={`Take off ${list.name}`}
              onClick={() => {
                onDone()
                void takeOff(list, ids)
              }}
            >
              Take off
            </Button>
          )}
        </div>
      ))}
      <form onSubmit={event => void save(event)} style={{ display: 'flex', gap: 8 }}>
        <TextField
          fullWidth
          autoFocus={kind === listKinds[0]}
          value={name}
          placeholder={make}
          onChange={event => setName(event.target.value)}
          slotProps={{ htmlInput: { 'aria-label': `Name of a ${make.toLowerCase()}`, maxLength: 80 } }}
        />
        <Button type="submit" disabled={!name.trim()}>
          Add
        </Button>
      </form>
    </section>
  )
}
