import { askAgain, useEndpoint } from '../api/use-endpoint.ts'
import { listViews, removeView, type SavedView, saveView, type ViewState } from '@dew-trail/contract/views'
import { Button, MenuItem } from '@mui/material'
import { useQueryClient } from '@tanstack/react-query'
import { X } from 'lucide-react'
import { type FormEvent, useState } from 'react'
import { call } from '../api/call.ts'
import { useAct } from '../ui/use-act.ts'
import { MenuList, Popover } from '../ui/floating-later.tsx'
import { TextInput } from '../ui/TextInput.tsx'

type Props = {
  sheet: string
  /** Views that come with the program. */
  shipped: Array<{ name: string; state: ViewState }>
  current(): ViewState
  onChoose(state: ViewState): void
  /** Brings back the columns that were there before a view set its own; null where none did. */
  onGiveBack: (() => void) | null
}

/** Saved columns, conditions and order of this table: those that ship and one's own, the same in every site. */
export function ViewMenu({ sheet, shipped, current, onChoose, onGiveBack }: Props) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null)
  const [name, setName] = useState('')
  const act = useAct()
  const client = useQueryClient()
  const { data } = useEndpoint(listViews, { sheet })
  const again = () => askAgain(client, listViews)
  const choose = (state: ViewState) => {
    setAnchor(null)
    onChoose(state)
  }
  const save = (event: FormEvent) => {
    event.preventDefault()
    void act(async () => {
      const view = await call(saveView, { sheet, name, state: current() })
      await again()
      setName('')
      setAnchor(null)
      return { say: `View "${view.name}" saved; it can be used in every site` }
    })
  }
  const remove = (view: SavedView) =>
    void act(async () => {
      await call(removeView, { viewId: view.id })
      await again()
      return {
        say: `View "${view.name}" removed`,
        undo: async () => {
          await call(saveView, view)
          await again()
        },
      }
    })
  return (
    <>
      <button type="button" className="link" aria-haspopup="dialog" onClick={event => setAnchor(event.currentTarget)}>
        Views
      </button>
      {anchor && (
        <Popover
          open
          anchorEl={anchor}
          onClose={() => setAnchor(null)}
          anchorOrigin={{ vertical: 'bottom', horizontal: 'left' }}
          slotProps={{ paper: { 'aria-label': 'Views' } }}
        >
          <MenuList autoFocus>
            {shipped.map(view => (
              <MenuItem key={view.name} onClick={() => choose(view.state)}>
                {view.name}
              </MenuItem>
            ))}
            {(data ?? []).map(view => (
              <MenuItem key={view.id} onClick={() => choose(view.state)}>
                {view.name}
              </MenuItem>
            ))}
            {onGiveBack && (
              <MenuItem
                onClick={() => {
                  setAnchor(null)
                  onGiveBack()
                }}
              >
                My columns as before
              </MenuItem>
            )}
          </MenuList>
          <form
            onSubmit={save}
            style={{
              borderTop: '1px solid var(--mui-palette-dew-line)',
              padding: '8px 12px',
              display: 'flex',
              gap: 8,
            }}
          >
            <TextInput
              label="Name of a new view"
              value={name}
              placeholder="Name of a new view"
              onChange={event => setName(event.target.value)}
            />
            <Button type="submit" disabled={!name.trim()}>
              Save
            </Button>
          </form>
          {(data ?? []).length > 0 && (
            <div style={{ padding: '0 12px 8px' }}>
              {(data ?? []).map(view => (
                <button
                  key={view.id}
                  type="button"
                  className="link"
                  style={{ display: 'flex', gap: 6 }}
                  onClick={() => remove(view)}
                >
                  <X size={13} aria-hidden="true" /> Remove the view {view.name}
                </button>
              ))}
            </div>
          )}
        </Popover>
      )}
    </>
  )
}
