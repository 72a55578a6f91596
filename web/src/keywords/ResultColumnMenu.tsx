import { useState } from 'react'
import { resultColumns, usualColumns } from './result-columns.tsx'
import { Checkbox, FormControlLabel, Popover } from '../ui/floating-later.tsx'

/** Which figures of the results are shown. `onChange` hears keys joined by commas, or null for the usual ones. */
export function ResultColumnMenu({
  columns,
  onChange,
}: {
  columns: readonly string[]
  onChange(columns: string | null): void
}) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null)
  const toggle = (key: string) => {
    const next = resultColumns
      .map(column => column.key)
      .filter(each => (each === key ? !columns.includes(key) : columns.includes(each)))
    onChange(next.join() === usualColumns.join() ? null : next.join())
  }
  return (
    <>
      <button
        type="button"
        className="link"
        onClick={event => setAnchor(event.currentTarget)}
        style={{ marginLeft: 8 }}
      >
        Columns
      </button>
      <Popover
        open={anchor !== null}
        anchorEl={anchor}
        onClose={() => setAnchor(null)}
        anchorOrigin={{ vertical: 'bottom', horizontal: 'left' }}
        slotProps={{ paper: { sx: { p: 3, display: 'flex', flexDirection: 'column', maxHeight: 480 } } }}
      >
        {resultColumns.map(column => (
          <FormControlLabel
            key={column.key}
            label={column.label}
            title={column.explain}
            control={<Checkbox checked={columns.includes(column.key)} onChange={() => toggle(column.key)} />}
          />
        ))}
      </Popover>
    </>
  )
}
