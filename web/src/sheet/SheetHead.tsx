import type { Sort } from '@dew-trail/core/tables/column-spec'
import { type DragEvent, type KeyboardEvent, useState } from 'react'
import type { SheetColumn } from './columns.ts'
import type { ColumnTable } from './use-column-table.ts'

/** Sorting by a header: down, up, off. With Shift the column joins those already sorted by. */
export function nextSort(sort: readonly Sort[], key: string, add: boolean): Sort[] {
  const now = sort.find(each => each.column === key)
  const next: Sort[] = now ? (now.down ? [{ column: key, down: false }] : []) : [{ column: key, down: true }]
  if (!add) return next
  return now ? sort.flatMap(each => (each.column === key ? next : [each])) : [...sort, ...next]
}

type Props = {
  table: ColumnTable
  columns: Array<{ spec: SheetColumn; width: number }>
  sort: readonly Sort[]
  onSort(key: string, add: boolean): void
}

/** Sticky header: sorts, resizes by its right edge (drag, or arrows with the focus on it), reorders by dragging or Alt with arrows. */
export function SheetHead({ table, columns, sort, onSort }: Props) {
  const [dragged, setDragged] = useState<string | null>(null)
  const keys = columns.map(({ spec }) => spec.key)
  const move = (key: string, to: number) => {
    const all = table.getAllLeafColumns().map(column => column.id)
    const order = (table.state.columnOrder.length ? table.state.columnOrder : all).filter(each => each !== key)
    const before = keys.filter(each => each !== key)[to]
    order.splice(before === undefined ? order.length : order.indexOf(before), 0, key)
    table.setColumnOrder(order)
  }
  const onKeyDown = (event: KeyboardEvent, key: string, at: number) => {
    if (!event.altKey || (event.key !== 'ArrowLeft' && event.key !== 'ArrowRight')) return
    event.preventDefault()
    move(key, Math.max(0, at + (event.key === 'ArrowLeft' ? -1 : 1)))
  }
  return (
    <div className="sheet-head" role="rowgroup">
      <div role="row" aria-rowindex={1} style={{ display: 'contents' }}>
        <div role="columnheader" style={{ width: 34 }}>
          <span className="hidden">Mark</span>
        </div>
        {columns.map(({ spec, width }, at) => {
          const order = sort.findIndex(each => each.column === spec.key)
          const down = sort[order]?.down
          return (
            <div
              key={spec.key}
              role="columnheader"
              aria-sort={order < 0 ? 'none' : down ? 'descending' : 'ascending'}
              className={spec.align === 'right' ? 'right' : ''}
              style={{ width: `var(--w-${spec.key})` }}
              draggable
              onDragStart={(event: DragEvent) => {
                setDragged(spec.key)
                event.dataTransfer.effectAllowed = 'move'
              }}
              onDragOver={event => {
                if (dragged) event.preventDefault()
              }}
              onDrop={() => {
                if (dragged && dragged !== spec.key) move(dragged, at)
                setDragged(null)
              }}
            >
              <button
                type="button"
                className="sort"
                title={`${spec.explain}\n\nClick sorts, Shift adds to the order, drag or Alt with arrows moves.`}
                onClick={event => onSort(spec.key, event.shiftKey)}
                onKeyDown={event => onKeyDown(event, spec.key, at)}
              >
                {spec.label}
                {order >= 0 && (
                  <span aria-hidden="true">
                    {down ? '↓' : '↑'}
                    {sort.length > 1 ? order + 1 : ''}
                  </span>
                )}
              </button>
              <Grip table={table} id={spec.key} label={spec.label} width={width} />
            </div>
          )
        })}
      </div>
    </div>
  )
}

function Grip({ table, id, label, width }: { table: ColumnTable; id: string; label: string; width: number }) {
  const set = (next: number) =>
    table.setColumnSizing(before => ({ ...before, [id]: Math.max(44, Math.min(900, next)) }))
  return (
    <span
      role="separator"
      tabIndex={0}
      aria-orientation="vertical"
      aria-label={`Width of ${label}`}
      aria-valuenow={Math.round(width)}
      aria-valuemin={44}
      aria-valuemax={900}
      className="sheet-grip"
      onDoubleClick={() => table.getColumn(id)?.resetSize()}
      onKeyDown={event => {
        if (event.key === 'ArrowLeft' || event.key === 'ArrowRight') {
          event.preventDefault()
          event.stopPropagation()
          set(width + (event.key === 'ArrowLeft' ? -12 : 12))
        }
      }}
      onPointerDown={event => {
        event.preventDefault()
        event.stopPropagation()
        const startX = event.clientX
        const element = event.currentTarget
        element.setPointerCapture(event.pointerId)
        const onMove = (next: PointerEvent) => set(width + next.clientX - startX)
        const onUp = () => {
          element.removeEventListener('pointermove', onMove)
          element.removeEventListener('pointerup', onUp)
        }
        element.addEventListener('pointermove', onMove)
        element.addEventListener('pointerup', onUp)
      }}
    />
  )
}
