import { memo } from 'react'
import type { Condition } from '@dew-trail/core/tables/column-spec'
import { formatWhole } from '../../ui/format.ts'
import type { SheetState } from '../../sheet/use-sheet-state.ts'

const quoted = (condition: Condition, op: 'has' | 'without'): string | null =>
  condition.op === op && condition.value.startsWith('"') ? condition.value.slice(1, -1) : null

/** Words of the current list by frequency. A click on the word asks for it, a click on "without" leaves it out; again takes that back. */
export const WordPanel = memo(function WordPanel({
  words,
  state,
}: {
  words: Array<{ word: string; rows: number }>
  state: SheetState
}) {
  const only = state.where.map(condition => quoted(condition, 'has')).filter(word => word !== null)
  const out = state.where.map(condition => quoted(condition, 'without')).filter(word => word !== null)
  const set = (word: string, op: 'has' | 'without', on: boolean) => {
    const rest = state.where.filter(
      condition => quoted(condition, 'has') !== word && quoted(condition, 'without') !== word,
    )
    state.setWhere(on ? [...rest, { column: 'phrase', op, value: `"${word}"` }] : rest)
  }
  const listed = [...words.filter(each => !out.includes(each.word)), ...out.map(word => ({ word, rows: 0 }))]
  const most = Math.max(1, ...listed.map(each => each.rows))
  return (
    <section>
      <h2>
        Words
        {(only.length > 0 || out.length > 0) && (
          <button
            type="button"
            className="link"
            style={{ fontSize: 12 }}
            onClick={() =>
              state.setWhere(
                state.where.filter(
                  condition => quoted(condition, 'has') === null && quoted(condition, 'without') === null,
                ),
              )
            }
          >
            Clear
          </button>
        )}
      </h2>
      {listed.map(({ word, rows }) => {
        const isOnly = only.includes(word)
        const isOut = out.includes(word)
        return (
          <div key={word} className={`word${isOnly ? ' only' : ''}${isOut ? ' out' : ''}`}>
            <i style={{ width: `${(60 * rows) / most}%` }} />
            <button
              type="button"
              className="word-text"
              aria-pressed={isOnly}
              title={isOnly ? `Ask for ${word} no longer` : `Only keywords with ${word}`}
              onClick={() => set(word, 'has', !isOnly)}
            >
              {word}
            </button>
            <button
              type="button"
              className="word-out"
              aria-pressed={isOut}
              title={isOut ? `Show keywords with ${word} again` : `Leave out keywords with ${word}`}
              onClick={() => set(word, 'without', !isOut)}
            >
              without
            </button>
            {!isOut && <small>{formatWhole(rows)}</small>}
          </div>
        )
      })}
    </section>
  )
})
