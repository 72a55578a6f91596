import { resolveLimits } from '@dew-trail/core/tables/column-spec'
import {
  type KeyboardEvent,
  type ReactNode,
  useCallback,
  useEffect,
  useLayoutEffect,
  useMemo,
  useRef,
  useState,
  useSyncExternalStore,
} from 'react'
import { formatWhole } from '../ui/format.ts'
import type { SheetColumn } from './columns.ts'
import { SheetDetails } from './SheetDetails.tsx'
import { nextSort, SheetHead } from './SheetHead.tsx'
import { type RowMark, SheetRow } from './SheetRow.tsx'
import { useExplainer } from './Explainer.tsx'
import type { Fold, Row, RowSource } from '../rows/row-source.ts'
import { rowHeight } from './row-offsets.ts'
import type { SheetState } from './use-sheet-state.ts'
import { type OpenRowMenu, RowMenu, type RowMenuItem } from './RowMenu.tsx'
import type { ColumnTable } from './use-column-table.ts'
import { mostDrawn, useRowOffsets } from './use-row-offsets.ts'
import { useKeptScroll } from './use-kept-scroll.ts'
import { useRowsInSight } from './use-rows-in-sight.ts'

const noLimits: Record<string, number | null> = {}
/** Height of the head, which covers the top of the window. */
const headHeight = 34

export type SheetProps = {
  label: string
  source: RowSource
  columns: readonly SheetColumn[]
  table: ColumnTable
  state: SheetState
  selected: ReadonlySet<number>
  onSelect(ids: ReadonlySet<number>): void
  /** The mark at the start of a row: pressed or not, what it does. Without it the mark selects. */
  mark?: RowMark
  rowClass?(row: Row): string
  unfold?(row: Row): ReactNode
  /** One-letter actions on the row with the focus, or on the selection (`null`) when there is one. */
  keys?: Record<string, (id: number | null) => void>
  /** What the menu of a row offers besides unfolding and selecting it (right click, or Shift F10). */
  rowMenu?(row: Row): RowMenuItem[]
  /** Rows of one group stand under one of them. */
  fold?: Fold | undefined
  /** Limits that conditions may name. */
  limits?: Record<string, number | null>
  empty: ReactNode
}

/**
 * The one table. Rows come from a row source and only those in sight are drawn; columns are TanStack Table's state; rows unfold in
 * place. A tree grid for screen readers: rows take the focus, left and right fold and unfold.
 */
export function Sheet({
  label,
  source,
  columns,
  table,
  state,
  selected,
  onSelect,
  mark,
  rowClass,
  unfold,
  keys,
  rowMenu,
  fold,
  limits = noLimits,
  empty,
}: SheetProps) {
  useSyncExternalStore(source.subscribe, () => source.version)
  const [active, setActive] = useState(0)
  const wantsFocus = useRef(false)
  const anchor = useRef(0)
  const { open } = state
  const openSet = useMemo(() => new Set(unfold ? open : []), [open, unfold])
  const byKey = useMemo(() => new Map(columns.map(column => [column.key, column])), [columns])
  const shown = table
    .getVisibleLeafColumns()
    .map(column => ({ spec: byKey.get(column.id), width: column.getSize() }))
    .filter((column): column is { spec: SheetColumn; width: number } => column.spec !== undefined)
  const widths = Object.fromEntries(shown.map(({ spec, width }) => [`--w-${spec.key}`, `${width}px`]))
  const shownKeys = shown.map(({ spec }) => spec.key).join(',')
  const specs = useMemo(
    () =>
      shownKeys
        .split(',')
        .map(key => byKey.get(key)!)
        .filter(Boolean),
    [shownKeys, byKey],
  )

  useEffect(() => {
    source.setQuery({ where: resolveLimits(state.where, limits), sort: state.sort, fold })
  }, [source, state.where, state.sort, fold, limits])

  const { setHeight, offsets } = useRowOffsets(source, openSet)
  const { box, attach, scrollTo, first, end } = useRowsInSight(offsets, headHeight)
  useKeptScroll(box, offsets.height)
  const { count } = offsets
  const indexes = Array.from({ length: Math.max(0, end - first) }, (_, i) => first + i)
  useEffect(() => {
    source.requestRange(first, end)
  }, [source, first, end])
  // A row that was just unfolded comes into sight with what it unfolds, which may still grow, until somebody moves on.
  const unfolding = useRef<number | null>(null)
  const { toggleOpen } = state
  const toggle = useCallback(
    (id: number) => {
      unfolding.current = openSet.has(id) ? null : id
      toggleOpen(id)
    },
    [openSet, toggleOpen],
  )
  const moveOn = () => {
    unfolding.current = null
  }
  // biome-ignore lint/correctness/useExhaustiveDependencies: whenever rows stand elsewhere.
  useEffect(() => {
    if (unfolding.current === null || !openSet.has(unfolding.current)) return
    const index = source.indexOf(unfolding.current)
    if (index !== undefined) scrollTo(index)
  }, [offsets])
  // Rows of another list start from the top; rows that merely grow stay where they are.
  const listKey = `${JSON.stringify(state.where)}${JSON.stringify(state.sort)}${fold ? 'folded' : ''}`
  const lastListKey = useRef(listKey)
  useEffect(() => {
    if (lastListKey.current === listKey) return
    lastListKey.current = listKey
    scrollTo(0)
    unfolding.current = null
    activeId.current = null
    setActive(0)
  }, [listKey, scrollTo])

  const go = useCallback(
    (index: number) => {
      const next = Math.max(0, Math.min(count - 1, index))
      wantsFocus.current = true
      setActive(next)
      scrollTo(next)
    },
    [count, scrollTo],
  )
  // The row may not be drawn yet when it is asked to take the focus: it is tried again with every drawing, and before the next key.
  useLayoutEffect(() => {
    if (!wantsFocus.current) return
    const row = box.current?.querySelector<HTMLElement>(`[data-index="${active}"] > .sheet-row`)
    if (!row) return
    wantsFocus.current = false
    row.focus({ preventScroll: true })
  })
  // A row that still holds the focus while another is to take it must not make itself the active one again.
  const onRowFocus = useCallback((index: number) => {
    if (!wantsFocus.current) setActive(index)
  }, [])

  // After a leap the rows that were in sight stay until the new ones come, a moment later: nothing is ever blank.
  const held = useRef<{ list: string; rows: ReadonlyArray<Row | undefined> }>({ list: listKey, rows: [] })
  const known = indexes.map(source.getRow)
  if (held.current.list !== listKey || known.some(row => row !== undefined))
    held.current = { list: listKey, rows: known }
  const rows = held.current.rows

  // Rows that arrive while somebody walks the list move the others: the active row stays the same row, wherever it stands now.
  const activeId = useRef<number | null>(null)
  const seenVersion = useRef(source.version)
  useLayoutEffect(() => {
    if (seenVersion.current === source.version) {
      activeId.current = source.getRow(active)?.id ?? activeId.current
      return
    }
    seenVersion.current = source.version
    if (activeId.current === null || wantsFocus.current || source.getRow(active)?.id === activeId.current) return
    const moved = indexes.find(index => source.getRow(index)?.id === activeId.current)
    if (moved === undefined) return
    wantsFocus.current = box.current?.contains(document.activeElement) ?? false
    setActive(moved)
  })

  const select = useCallback(
    (id: number, index: number, range: boolean) => {
      const next = new Set(selected)
      if (range) {
        for (let i = Math.min(anchor.current, index); i <= Math.max(anchor.current, index); i++) {
          const row = source.getRow(i)
          if (row) next.add(row.id)
        }
      } else if (next.has(id)) next.delete(id)
      else next.add(id)
      anchor.current = index
      onSelect(next)
    },
    [selected, onSelect, source],
  )

  const [menu, setMenu] = useState<OpenRowMenu | null>(null)
  const openMenu = (index: number, left: number, top: number): boolean => {
    const row = source.getRow(index)
    if (row) setMenu({ row, index, left, top })
    return row !== undefined
  }
  const menuItems = ({ row, index }: OpenRowMenu): RowMenuItem[] => [
    ...(unfold ? [{ label: openSet.has(row.id) ? 'Fold' : 'Unfold', key: 'Enter', run: () => toggle(row.id) }] : []),
    {
      label: selected.has(row.id) ? 'Take out of the selection' : 'Select',
      key: 'X',
      run: () => select(row.id, index, false),
    },
    ...(rowMenu?.(row) ?? []),
  ]
  const explainer = useExplainer(specs, source.getRow)
  const onKeyDown = (event: KeyboardEvent) => {
    if (
      event.target instanceof HTMLInputElement ||
      event.target instanceof HTMLTextAreaElement ||
      event.target instanceof HTMLSelectElement ||
      event.altKey
    )
      return
    const onRow = (event.target as HTMLElement).classList.contains('sheet-row') || event.target === box.current
    const row = source.getRow(active)
    const page = Math.max(1, Math.floor((box.current?.clientHeight ?? 400) / rowHeight) - 2)
    const moves: Record<string, number> = {
      ArrowDown: active + 1,
      j: active + 1,
      ArrowUp: active - 1,
      k: active - 1,
      PageDown: active + page,
      PageUp: active - page,
      Home: 0,
      End: count - 1,
    }
    const ctrl = event.ctrlKey || event.metaKey
    if (event.key in moves && onRow && !(ctrl && event.key.length === 1)) {
      event.preventDefault()
      go(moves[event.key]!)
      return
    }
    if (!onRow || !row) return
    if (ctrl && event.key === 'a') {
      event.preventDefault()
      void selectAll()
      return
    }
    if (ctrl) return
    if (
      unfold &&
      (event.key === 'Enter' ||
        (event.key === 'ArrowRight' && !openSet.has(row.id)) ||
        (event.key === 'ArrowLeft' && openSet.has(row.id)))
    ) {
      event.preventDefault()
      toggle(row.id)
      wantsFocus.current = true
      return
    }
    if (event.key === 'x' || event.key === ' ') {
      event.preventDefault()
      select(row.id, active, event.shiftKey)
      return
    }
    if (event.key === 'ContextMenu' || (event.key === 'F10' && event.shiftKey)) {
      const box = (event.target as HTMLElement).getBoundingClientRect()
      if (openMenu(active, box.left + 60, box.bottom)) event.preventDefault()
      return
    }
    if (event.key === 'i') {
      event.preventDefault()
      explainer.showAll(event.target as HTMLElement, row)
      return
    }
    if (event.key === 'Escape' && explainer.isOpen) {
      explainer.close()
      return
    }
    if (event.key === 'Escape' && selected.size) {
      onSelect(new Set())
      return
    }
    const action = keys?.[event.key]
    if (action) {
      event.preventDefault()
      action(selected.size ? null : row.id)
    }
  }
  const selectAll = async () => {
    if ('ids' in source) onSelect(new Set(await (source as RowSource & { ids(): Promise<number[]> }).ids()))
  }

  if (source.state === 'ready' && source.count === 0) return <div className="sheet">{empty}</div>
  return (
    <div
      ref={attach}
      className="sheet"
      role="treegrid"
      aria-label={label}
      aria-rowcount={source.count + 1}
      aria-multiselectable="true"
      aria-busy={source.state === 'loading' || source.pending}
      style={widths}
      onKeyDown={event => {
        moveOn()
        onKeyDown(event)
      }}
      onPointerDown={moveOn}
      onContextMenu={event => {
        // Links and texts keep the menu of the browser.
        if ((event.target as HTMLElement).closest('a, input, textarea, .sheet-details')) return
        const item = (event.target as HTMLElement).closest<HTMLElement>('[data-index]')
        if (item && openMenu(Number(item.dataset.index), event.clientX, event.clientY)) event.preventDefault()
      }}
      onWheel={moveOn}
      {...explainer.handlers}
      tabIndex={indexes.length ? -1 : 0}
    >
      <SheetHead
        table={table}
        columns={shown}
        sort={state.sort}
        onSort={(key, add) => state.setSort(nextSort(state.sort, key, add))}
      />
      <div className="sheet-body" role="rowgroup" style={{ height: offsets.height + 8 }}>
        {indexes.map((index, i) => {
          const row = rows[i]
          const unfolded = row !== undefined && openSet.has(row.id)
          return (
            // Keyed by place, not by row: a row that is still being fetched keeps its element, and with it the focus, when it comes.
            <div
              key={index}
              data-index={index}
              className="sheet-item"
              style={{ transform: `translateY(${offsets.startOf(index)}px)` }}
              role="presentation"
            >
              <SheetRow
                row={row}
                index={index}
                specs={specs}
                active={index === active}
                unfolded={unfold ? unfolded : undefined}
                selected={row !== undefined && selected.has(row.id)}
                marked={row !== undefined && mark ? mark.isOn(row) : undefined}
                className={row && rowClass ? rowClass(row) : ''}
                mark={mark}
                onActive={onRowFocus}
                onSelect={select}
                onToggle={toggle}
              />
              {unfolded && unfold && (
                <SheetDetails key={row.id} id={row.id} width={box.current?.clientWidth} onHeight={setHeight}>
                  {unfold(row)}
                </SheetDetails>
              )}
            </div>
          )
        })}
      </div>
      {source.count > mostDrawn && (
        <p className="empty quiet">
          These are the first {formatWhole(mostDrawn)} of {formatWhole(source.count)} rows in this order. Conditions or
          another order bring up the others; sums, words and exports have all of them.
        </p>
      )}
      {menu && <RowMenu at={menu} items={menuItems(menu)} onClose={() => setMenu(null)} />}
      {explainer.card}
      {source.state === 'loading' && source.count === 0 && <p className="empty quiet">Loading rows</p>}
      {source.state === 'failed' && (
        <div className="empty" role="alert">
          <h2>The rows could not be loaded</h2>
          <p>{source.error}. Nothing was lost; reload the page to try again.</p>
        </div>
      )}
    </div>
  )
}
