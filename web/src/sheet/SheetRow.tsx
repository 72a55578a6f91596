import { memo } from 'react'
import type { SheetColumn } from './columns.ts'
import type { Row } from '../rows/row-source.ts'

/** The mark at the start of a row: pressed or not, and what it does. */
export type RowMark = { label: string; isOn(row: Row): boolean; toggle(row: Row): void }

type Props = {
  row: Row | undefined
  index: number
  specs: SheetColumn[]
  active: boolean
  unfolded: boolean | undefined
  selected: boolean
  marked: boolean | undefined
  className: string
  mark: RowMark | undefined
  onActive(index: number): void
  onSelect(id: number, index: number, range: boolean): void
  onToggle(id: number): void
}

/** One row: light cells, drawn again only when something of it changed. */
export const SheetRow = memo(function SheetRow({
  row,
  index,
  specs,
  active,
  unfolded,
  selected,
  marked,
  className,
  mark,
  onActive,
  onSelect,
  onToggle,
}: Props) {
  const classes = `sheet-row ${className}${row?.inFamily ? ' in-family' : ''}${active ? ' active' : ''}${unfolded ? ' unfolded' : ''}${selected ? ' selected' : ''}`
  return (
    <div
      role="row"
      className={classes}
      tabIndex={active ? 0 : -1}
      aria-rowindex={index + 2}
      data-id={row?.id}
      aria-level={1}
      aria-selected={selected}
      {...(unfolded === undefined ? {} : { 'aria-expanded': unfolded })}
      onFocus={() => onActive(index)}
      onClick={event => {
        if (!row) return
        if (event.shiftKey || event.ctrlKey || event.metaKey) onSelect(row.id, index, event.shiftKey)
        else if (unfolded !== undefined && !(event.target as HTMLElement).closest('button, a')) onToggle(row.id)
      }}
    >
      <div role="gridcell" className="sheet-cell" style={{ width: 34, paddingRight: 0 }}>
        {row &&
          (mark ? (
            <button
              type="button"
              tabIndex={-1}
              className="sheet-mark"
              aria-pressed={marked}
              aria-label={mark.label}
              title={mark.label}
              onClick={event => {
                event.stopPropagation()
                mark.toggle(row)
              }}
            >
              <i />
            </button>
          ) : (
            <button
              type="button"
              tabIndex={-1}
              className="sheet-mark"
              aria-pressed={selected}
              aria-label="Select"
              title="Select (X)"
              onClick={event => {
                event.stopPropagation()
                onSelect(row.id, index, event.shiftKey)
              }}
            >
              <i />
            </button>
          ))}
      </div>
      {specs.map(spec => (
        <div
          key={spec.key}
          role="gridcell"
          className={spec.align ? 'sheet-cell right' : 'sheet-cell'}
          style={{ width: `var(--w-${spec.key})` }}
          {...(spec.why ? { 'data-why': spec.key } : {})}
        >
          {row ? spec.render(row) : null}
        </div>
      ))}
    </div>
  )
})
