import { MenuItem } from '@mui/material'
import type { Row } from '../rows/row-source.ts'
import { Menu } from '../ui/floating-later.tsx'

/** What can be done with a row, as its menu offers it. `key`: the key that does it too. */
export type RowMenuItem = { label: string; key?: string | undefined; run(): void }
export type OpenRowMenu = { row: Row; index: number; left: number; top: number }

/** The menu of a row where it was asked for: what its keys do, in words. */
export function RowMenu({ at, items, onClose }: { at: OpenRowMenu; items: RowMenuItem[]; onClose(): void }) {
  return (
    <Menu open onClose={onClose} anchorReference="anchorPosition" anchorPosition={{ left: at.left, top: at.top }}>
      {items.map(({ label, key, run }) => (
        <MenuItem
          key={label}
          onClick={() => {
            onClose()
            run()
          }}
        >
          <span style={{ flex: 1 }}>{label}</span>
          {key && <kbd>{key}</kbd>}
        </MenuItem>
      ))}
    </Menu>
  )
}
