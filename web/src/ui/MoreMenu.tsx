import { MenuItem } from '@mui/material'
import { useState } from 'react'
import { Menu } from './floating-later.tsx'

/** Actions that are wanted less often, behind one word. Those without `run` are not offered now. */
export function MoreMenu({ items }: { items: Array<{ label: string; run?: (() => void) | undefined }> }) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null)
  return (
    <>
      <button
        type="button"
        className="link"
        aria-haspopup="menu"
        aria-expanded={anchor !== null}
        onClick={event => setAnchor(event.currentTarget)}
      >
        More
      </button>
      <Menu open={anchor !== null} anchorEl={anchor} onClose={() => setAnchor(null)}>
        {items.map(({ label, run }) => (
          <MenuItem
            key={label}
            disabled={!run}
            onClick={() => {
              setAnchor(null)
              run?.()
            }}
          >
            {label}
          </MenuItem>
        ))}
      </Menu>
    </>
  )
}
