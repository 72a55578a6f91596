import { type ListKind, listKinds } from '@dew-trail/contract/lists'
import { Button, ListSubheader, Menu, MenuItem, TextField } from '@mui/material'
import { type FormEvent, useState } from 'react'
import { useAct } from '../shell/use-act.ts'
import { useLists } from './use-lists.ts'

const words: Record<ListKind, { title: string; make: string }> = {
  shortlist: { title: 'Shortlists', make: 'New shortlist' },
  label: { title: 'Labels', make: 'New label' },
}

/** Puts the selected keywords on a shortlist or gives them a label, an old one or a new one; or takes them off again. */
export function ListMenu({ ids }: { ids: number[] }) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null)
  const close = () => setAnchor(null)
  return (
    <>
      <button type="button" className="link" aria-haspopup="menu" onClick={event => setAnchor(event.currentTarget)}>
        List or label
      </button>
      {/* What is typed first is a name, so the menu takes no letters for finding its items. */}
      <Menu open={anchor !== null} anchorEl={anchor} onClose={close} autoFocus={false}>
        {listKinds.map(kind => (
          <ListSection key={kind} kind={kind} ids={ids} onDone={close} />
        ))}
      </Menu>
    </>
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
    <>
      <ListSubheader sx={{ lineHeight: '28px', background: 'transparent' }}>{title}</ListSubheader>
      {lists.map(list => (
        <li key={list.id} style={{ display: 'flex', alignItems: 'center' }}>
          <MenuItem
            component="div"
            sx={{ flex: 1 }}
            onClick={() => {
              onDone()
              void put(list, ids)
            }}
          >
            {list.name} <small className="quiet">&nbsp;{list.keywords}</small>
          </MenuItem>
          {list.keywords > 0 && (
            <MenuItem
              component="div"
              sx={{ fontSize: 12 }}
              aria-label={`Take off ${list.name}`}
              onClick={() => {
                onDone()
                void takeOff(list, ids)
              }}
            >
              Take off
            </MenuItem>
          )}
        </li>
      ))}
      <li style={{ padding: '4px 12px 8px' }}>
        <form onSubmit={event => void save(event)} style={{ display: 'flex', gap: 8 }}>
          <TextField
            autoFocus={kind === listKinds[0]}
            value={name}
            placeholder={make}
            onChange={event => setName(event.target.value)}
            onKeyDown={event => event.key !== 'Escape' && event.stopPropagation()}
            slotProps={{ htmlInput: { 'aria-label': `Name of a ${make.toLowerCase()}`, maxLength: 80 } }}
          />
          <Button type="submit" disabled={!name.trim()}>
            Add
          </Button>
        </form>
      </li>
    </>
  )
}
