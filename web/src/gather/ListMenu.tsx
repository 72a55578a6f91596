import type { ListKind } from '@dew-trail/contract/lists'
import { Button, Menu, MenuItem, TextField } from '@mui/material'
import { type FormEvent, useState } from 'react'
import { useAct } from '../shell/use-act.ts'
import { useLists } from './use-lists.ts'

const words: Record<ListKind, { title: string; make: string }> = {
  shortlist: { title: 'Shortlist', make: 'New shortlist' },
  label: { title: 'Label', make: 'New label' },
}

/** Puts the selected keywords on a shortlist or gives them a label, an old one or a new one; or takes them off again. */
export function ListMenu({ ids, kind }: { ids: number[]; kind: ListKind }) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null)
  const [name, setName] = useState('')
  const { lists, put, takeOff, add } = useLists(kind)
  const act = useAct()
  const { title, make } = words[kind]
  const close = () => setAnchor(null)
  const save = async (event: FormEvent) => {
    event.preventDefault()
    await act(async () => {
      const list = await add(name)
      setName('')
      close()
      await put(list, ids)
    })
  }
  return (
    <>
      <button type="button" className="link" aria-haspopup="menu" onClick={event => setAnchor(event.currentTarget)}>
        {title}
      </button>
      <Menu open={anchor !== null} anchorEl={anchor} onClose={close}>
        {lists.flatMap(list => [
          <MenuItem
            key={list.id}
            onClick={() => {
              close()
              void put(list, ids)
            }}
          >
            {list.name} <small className="quiet">&nbsp;{list.keywords}</small>
          </MenuItem>,
          list.keywords > 0 && (
            <MenuItem
              key={`${list.id} off`}
              sx={{ pl: 6, minHeight: 0, py: 0.5, fontSize: 12 }}
              onClick={() => {
                close()
                void takeOff(list, ids)
              }}
            >
              Take off "{list.name}"
            </MenuItem>
          ),
        ])}
        <li style={{ padding: '8px 12px' }}>
          <form onSubmit={event => void save(event)} style={{ display: 'flex', gap: 8 }}>
            <TextField
              autoFocus={!lists.length}
              value={name}
              placeholder={make}
              onChange={event => setName(event.target.value)}
              onKeyDown={event => event.stopPropagation()}
              slotProps={{ htmlInput: { 'aria-label': `Name of a ${make.toLowerCase()}`, maxLength: 80 } }}
            />
            <Button type="submit" disabled={!name.trim()}>
              Add
            </Button>
          </form>
        </li>
      </Menu>
    </>
  )
}
