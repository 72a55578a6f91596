import { useState } from 'react'
import type { SheetColumn } from './columns.ts'
import type { ColumnTable } from './use-column-table.ts'
import { Checkbox, FormControlLabel, Popover } from '../ui/floating-later.tsx'

/** Which columns are shown; and back to how they came. */
export function ColumnMenu({ table, columns }: { table: ColumnTable; columns: readonly SheetColumn[] }) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null)
  const reset = () => {
    table.setColumnOrder([])
    table.setColumnSizing({})
    table.setColumnVisibility(
      Object.fromEntries(columns.filter(column => column.hidden).map(column => [column.key, false])),
    )
  }
  return (
    <>
      <button type="button" className="link" onClick={event => setAnchor(event.currentTarget)}>
        Columns
      </button>
      {/* A closed popover is not drawn: the bar is drawn with every key that is typed. */}
      {anchor && (
        <Popover
          open
          anchorEl={anchor}
          onClose={() => setAnchor(null)}
          anchorOrigin={{ vertical: 'bottom', horizontal: 'right' }}
          transformOrigin={{ vertical: 'top', horizontal: 'right' }}
          slotProps={{ paper: { sx: { p: 3, display: 'flex', flexDirection: 'column', maxHeight: 480 } } }}
        >
          {table.getAllLeafColumns().map(column => (
            <FormControlLabel
              key={column.id}
              label={columns.find(each => each.key === column.id)?.label ?? column.id}
              control={
                <Checkbox
                  checked={column.getIsVisible()}
                  disabled={!column.getCanHide()}
                  onChange={() => column.toggleVisibility()}
                />
              }
            />
          ))}
          <button type="button" className="link" onClick={reset}>
            As they came
          </button>
        </Popover>
      )}
    </>
  )
}
