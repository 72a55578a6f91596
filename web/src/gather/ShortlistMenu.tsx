import { addShortlist, changeShortlist, listShortlists } from '@dew-trail/contract/shortlists'
import { Button, Menu, MenuItem, TextField } from '@mui/material'
import { useQuery, useQueryClient } from '@tanstack/react-query'
import { type FormEvent, useState } from 'react'
import { call } from '../api/call.ts'
import { plural } from '../format.ts'
import { useSite } from '../shell/site-context.ts'
import { useAct } from '../shell/use-act.ts'

export const useShortlists = () => {
  const { site } = useSite()
  return useQuery({ queryKey: ['shortlists', site.id], queryFn: () => call(listShortlists, { siteId: site.id }) })
}

/** Puts the selected keywords on a shortlist, an old one or a new one. */
export function ShortlistMenu({ ids }: { ids: number[] }) {
  const { site } = useSite()
  const [anchor, setAnchor] = useState<HTMLElement | null>(null)
  const [name, setName] = useState('')
  const { data } = useShortlists()
  const act = useAct()
  const client = useQueryClient()
  const put = (shortlistId: number, title: string) =>
    act(async () => {
      const change = (keywordIds: number[], on: boolean) =>
        call(changeShortlist, { siteId: site.id, shortlistId, keywordIds, on })
      const { changed } = await change(ids, true)
      await client.invalidateQueries({ queryKey: ['shortlists'] })
      setAnchor(null)
      return changed.length
        ? { say: `${plural(changed.length, 'keyword')} put on "${title}"`, undo: () => change(changed, false) }
        : { say: `Already on "${title}"` }
    })
  const make = async (event: FormEvent) => {
    event.preventDefault()
    await act(async () => {
      const list = await call(addShortlist, { siteId: site.id, name })
      setName('')
      await put(list.id, list.name)
    })
  }
  return (
    <>
      <button type="button" className="link" aria-haspopup="menu" onClick={event => setAnchor(event.currentTarget)}>
        Shortlist
      </button>
      <Menu open={anchor !== null} anchorEl={anchor} onClose={() => setAnchor(null)}>
        {(data ?? []).map(list => (
          <MenuItem key={list.id} onClick={() => void put(list.id, list.name)}>
            {list.name} <small className="quiet">&nbsp;{list.keywords}</small>
          </MenuItem>
        ))}
        <li style={{ padding: '8px 12px' }}>
          <form onSubmit={event => void make(event)} style={{ display: 'flex', gap: 8 }}>
            <TextField
              value={name}
              placeholder="New shortlist"
              onChange={event => setName(event.target.value)}
              onKeyDown={event => event.stopPropagation()}
              slotProps={{ htmlInput: { 'aria-label': 'Name of a new shortlist' } }}
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
