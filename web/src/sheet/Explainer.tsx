import type { Explanation } from '@dew-trail/core/tables/explanation'
import { type MouseEvent, useEffect, useRef, useState } from 'react'
import { formatDay } from '../ui/format.ts'
import type { SheetColumn } from './columns.ts'
import type { Row } from '../rows/row-source.ts'
import { Popper } from '../ui/floating-later.tsx'

const restMs = 350

/** A figure with its formula, the inputs of its row, source and date. */
export function ExplanationText({ explanation }: { explanation: Explanation }) {
  const { figure, value, formula, inputs, source, date, note } = explanation
  return (
    <div className="explanation">
      <p>
        {figure}: {value === null ? <span className="unknown">unknown</span> : <b>{value}</b>}
      </p>
      <p className="quiet">{formula}</p>
      {inputs.length > 0 && (
        <dl>
          {inputs.map(input => (
            <div key={input.name}>
              <dt>{input.name}</dt>
              <dd>{input.value === null ? <span className="unknown">unknown</span> : input.value}</dd>
            </div>
          ))}
        </dl>
      )}
      {note && <p>{note}</p>}
      <p className="quiet">
        From {source}
        {date ? `, ${formatDay(date)}` : ''}
      </p>
    </div>
  )
}

type Shown = { anchor: HTMLElement; explanations: Explanation[] }

/**
 * The one way in which figures explain themselves: the pointer resting on a cell shows that cell's explanation, I shows all of
 * the active row. Escape, leaving and scrolling close it.
 */
export function useExplainer(specs: readonly SheetColumn[], rowAt: (index: number) => Row | undefined) {
  const [shown, setShown] = useState<Shown | null>(null)
  const timer = useRef<ReturnType<typeof setTimeout> | null>(null)
  const over = useRef<HTMLElement | null>(null)
  const close = () => {
    if (timer.current) clearTimeout(timer.current)
    over.current = null
    setShown(null)
  }
  useEffect(
    () => () => {
      if (timer.current) clearTimeout(timer.current)
    },
    [],
  )
  const onMouseOver = (event: MouseEvent) => {
    const cell = (event.target as HTMLElement).closest<HTMLElement>('[data-why]')
    if (cell === over.current) return
    close()
    over.current = cell
    if (!cell) return
    timer.current = setTimeout(() => {
      const index = Number(cell.closest<HTMLElement>('[data-index]')?.dataset.index)
      const row = rowAt(index)
      const why = specs.find(spec => spec.key === cell.dataset.why)?.why
      if (row && why && cell.isConnected) setShown({ anchor: cell, explanations: [why(row)] })
    }, restMs)
  }
  const showAll = (anchor: HTMLElement, row: Row) =>
    setShown(
      shown
        ? null
        : {
            anchor,
            explanations: specs
              .map(spec => spec.why?.(row))
              .filter(each => each !== undefined)
              .filter((each, i, list) => list.findIndex(other => other.figure === each.figure) === i),
          },
    )
  const card = shown && (
    <Popper open anchorEl={shown.anchor} placement="bottom-start" sx={{ zIndex: 1300 }} className="explainer">
      {/* biome-ignore lint/a11y/noNoninteractiveTabindex: long reasons scroll, which the keys can do only in what can be focused */}
      <div aria-live="polite" role="group" aria-label="Reasons of figures" tabIndex={0}>
        {shown.explanations.map(each => (
          <ExplanationText key={each.figure} explanation={each} />
        ))}
      </div>
    </Popper>
  )
  return {
    card,
    close,
    showAll,
    isOpen: shown !== null,
    handlers: { onMouseOver, onMouseLeave: close, onMouseDown: close, onScroll: close },
  }
}
