import { memo } from 'react'
import type { SheetState } from '../sheet/use-sheet-state.ts'
import { formatWhole } from '../format.ts'
import { useShortlists } from './ShortlistMenu.tsx'

/** Shortlists with their counts; a click shows one. Nothing is drawn while there is none. */
export const ShortlistPanel = memo(function ShortlistPanel({ state }: { state: SheetState }) {
  const { data } = useShortlists()
  if (!data?.length) return null
  const condition = state.where.find(each => each.column === 'lists' && each.op === 'any')
  const chosen = condition?.op === 'any' ? condition.value[0] : undefined
  return (
    <section>
      <h2>Shortlists</h2>
      {data.map(list => (
        <button
          key={list.id}
          type="button"
          className="rail-row"
          aria-pressed={chosen === String(list.id)}
          onClick={() => {
            const rest = state.where.filter(each => each !== condition)
            state.setWhere(
              chosen === String(list.id) ? rest : [...rest, { column: 'lists', op: 'any', value: [String(list.id)] }],
            )
          }}
        >
          <span>{list.name}</span>
          <small>{formatWhole(list.keywords)}</small>
        </button>
      ))}
    </section>
  )
})
