import { type DragEvent, type KeyboardEvent, useEffect, useMemo, useRef } from 'react'
import { RowOffsets, rowHeight } from '../../sheet/row-offsets.ts'
import { useRowsInSight } from '../../sheet/use-rows-in-sight.ts'
import { mostKeptRows } from '@dew-trail/contract/kept-section'
import { type KeptTable, useShownSheet } from '../../report-pieces/shown-pieces.ts'
import { formatDay, formatWhole } from '../../ui/format.ts'
import { NowAndThen } from '../../pictures/NowAndThen.tsx'
import type { MapRow } from './map-rows.ts'
import { flagLabels, stateLabels } from './plan-words.ts'

const dragType = 'application/x-dew-trail-page'
const headHeight = 33

type Props = {
  rows: readonly MapRow[]
  /** The highest visits of a page, for the bars. */
  most: number
  active: string | null
  opened: string | null
  closed: ReadonlySet<string>
  onActive(node: string): void
  onOpen(row: MapRow): void
  onToggle(row: MapRow): void
  /** Puts a page below another; null = where its address says. */
  onMove(row: MapRow, under: string | null): void
  /** With less room the columns that say least are left out. */
  narrow: boolean
}

/**
 * The pages of a site as a tree of rows, of which only those in sight are drawn. Arrows move and open, Enter opens a page, Alt with an
 * arrow moves it.
 */
export function SiteTree({ rows, most, active, opened, closed, onActive, onOpen, onToggle, onMove, narrow }: Props) {
  const offsets = useMemo(() => new RowOffsets(rows.length, rowHeight), [rows.length])
  const { attach, first, end, scrollTo } = useRowsInSight(offsets, headHeight)
  useShownSheet({ title: 'Pages of the site', keep: async () => keptTree(rows) })
  const at = rows.findIndex(row => row.node === active)
  const shown = useRef<string | null>(null)
  useEffect(() => {
    if (at < 0 || shown.current === active) return
    shown.current = active
    scrollTo(at)
  }, [at, active, scrollTo])
  const go = (index: number) => {
    const row = rows[Math.max(0, Math.min(rows.length - 1, index))]
    if (row) onActive(row.node)
  }
  const onKey = (event: KeyboardEvent) => {
    const row = rows[at]
    if (event.ctrlKey || event.metaKey || event.target !== event.currentTarget) return
    const acts: Record<string, () => void> = {
      ArrowDown: () => go(at + 1),
      j: () => go(at + 1),
      ArrowUp: () => go(Math.max(0, at - 1)),
      k: () => go(Math.max(0, at - 1)),
      Home: () => go(0),
      End: () => go(rows.length - 1),
      ...(row && {
        Enter: () => onOpen(row),
        b: () => onOpen(row),
        ArrowRight: () => {
          if (row.children && closed.has(row.node)) onToggle(row)
          else if (row.children) go(at + 1)
        },
        ArrowLeft: () => {
          if (row.children && !closed.has(row.node)) onToggle(row)
          else if (row.parent) onActive(row.parent)
        },
        'Alt ArrowRight': () => {
          const before = siblingBefore(rows, at)
          if (before && row.canMove) onMove(row, before.node)
        },
        'Alt ArrowLeft': () => {
          const parent = rows.find(each => each.node === row.parent)
          if (parent?.parent && row.canMove) onMove(row, parent.parent)
        },
      }),
    }
    const run = acts[`${event.altKey ? 'Alt ' : ''}${event.key}`]
    if (!run) return
    event.preventDefault()
    run()
  }
  const drop = (event: DragEvent, onto: MapRow) => {
    const node = event.dataTransfer.getData(dragType)
    const row = rows.find(each => each.node === node)
    if (!row || row === onto) return
    event.preventDefault()
    onMove(row, onto.node)
  }
  return (
    <div
      className={narrow ? 'site-tree narrow' : 'site-tree'}
      ref={attach}
      role="treegrid"
      aria-label="Pages of the site"
      aria-rowcount={rows.length + 1}
      aria-activedescendant={at >= first && at < end ? `tree-${at}` : undefined}
      tabIndex={0}
      onKeyDown={onKey}
    >
      <div className="tree-head" role="row" aria-rowindex={1}>
        <span role="columnheader">Page</span>
        <span role="columnheader">Theme</span>
        <span role="columnheader" className="n">
          Searches
        </span>
        <span role="columnheader">Visits: now, with the plan</span>
        <span role="columnheader" className="n" title="Where the site stands for the page's lead keyword">
          You
        </span>
        <span role="columnheader">Look at</span>
      </div>
      <div style={{ height: offsets.height, position: 'relative' }}>
        {rows.slice(first, end).map((row, i) => (
          <div
            key={row.node}
            id={`tree-${first + i}`}
            className={`tree-row${row.node === active ? ' active' : ''}${row.node === opened ? ' opened' : ''}`}
            style={{ top: (first + i) * rowHeight }}
            role="row"
            aria-rowindex={first + i + 2}
            aria-level={row.depth + 1}
            aria-selected={row.node === active}
            {...(row.children ? { 'aria-expanded': !closed.has(row.node) } : {})}
            draggable={row.canMove}
            onDragStart={event => event.dataTransfer.setData(dragType, row.node)}
            onDragOver={event => event.dataTransfer.types.includes(dragType) && event.preventDefault()}
            onDrop={event => drop(event, row)}
            onMouseDown={() => onActive(row.node)}
            onDoubleClick={() => onOpen(row)}
          >
            <span role="gridcell" className="tree-name" style={{ paddingLeft: 4 + Math.min(row.depth, 12) * 18 }}>
              {row.children > 0 ? (
                <button
                  type="button"
                  className="tree-toggle"
                  tabIndex={-1}
                  aria-label={closed.has(row.node) ? `Open ${row.name}` : `Close ${row.name}`}
                  onClick={() => onToggle(row)}
                >
                  {closed.has(row.node) ? '▸' : '▾'}
                </button>
              ) : (
                <span className="tree-toggle" />
              )}
              <button
                type="button"
                tabIndex={-1}
                className={row.planned === null ? 'tree-open' : 'tree-open planned'}
                title={row.address ? `${row.name}\n${row.address}` : row.name}
                disabled={row.folder}
                onClick={() => onOpen(row)}
              >
                {row.name}
              </button>
            </span>
            <span role="gridcell" className="quiet cell-cut" title={row.theme ?? row.lead ?? ''}>
              {row.theme ?? row.lead ?? ''}
            </span>
            <span role="gridcell" className="n">
              {row.searches === null ? '' : formatWhole(row.searches)}
            </span>
            <span role="gridcell">
              <NowAndThen now={row.visitsNow} then={row.visits} most={most} />
            </span>
            <span role="gridcell" className="n own">
              {row.position === null ? (row.searches === null ? '' : '–') : Math.round(row.position)}
            </span>
            <span role="gridcell" className="cell-cut" title={lookText(row)}>
              {row.flags.length > 0 && <span className="tree-flag">{flagText(row)}</span>}
              {row.flags.length > 0 && row.state && ' '}
              {row.state && row.state !== 'published' && (
                <span className="quiet">
                  {stateLabels[row.state].toLowerCase()}
                  {row.deadline && `, ${formatDay(row.deadline)}`}
                </span>
              )}
            </span>
          </div>
        ))}
      </div>
    </div>
  )
}

/** The row before one of the same parent. */
function siblingBefore(rows: readonly MapRow[], at: number): MapRow | undefined {
  for (let i = at - 1; i >= 0 && rows[i]!.depth >= rows[at]!.depth; i--)
    if (rows[i]!.parent === rows[at]!.parent) return rows[i]
  return undefined
}

const flagText = ({ flags, detail }: MapRow): string => {
  const [flag] = flags
  if (flag === 'competes' && detail) return `competes with ${detail}`
  if (flag === 'wrongPage' && detail) return detail
  if (flag === 'late' && detail) return `late since ${formatDay(detail)}`
  return flagLabels[flag!]
}
const lookText = (row: MapRow): string =>
  row.flags.length ? [flagText(row), ...row.flags.slice(1).map(flag => flagLabels[flag])].join('; ') : ''

const countOrUnknown = (value: number | null): string => (value === null ? 'unknown' : formatWhole(value))
/** The tree as a report keeps it: a page below another stands further in. */
const keptTree = (rows: readonly MapRow[]): KeptTable => ({
  head: ['Page', 'Theme', 'Searches a month', 'Visits now', 'With the plan', 'Position', 'Look at'],
  rows: rows
    .slice(0, mostKeptRows)
    .map(row => [
      `${'· '.repeat(Math.min(row.depth, 12))}${row.name}`.slice(0, 500),
      row.theme ?? row.lead ?? '',
      countOrUnknown(row.searches),
      countOrUnknown(row.visitsNow),
      countOrUnknown(row.visits),
      row.position === null ? '' : String(Math.round(row.position)),
      lookText(row).slice(0, 500),
    ]),
  of: rows.length,
})
