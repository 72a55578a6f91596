import { memo } from 'react'
import { formatWhole } from '../../ui/format.ts'
import type { SheetState } from '../../sheet/use-sheet-state.ts'
import { kindLabels } from '../../keywords/column-parts.tsx'

/** Kinds of keywords with their counts under the other conditions, null before the rows are there; several can be chosen. */
export const KindPanel = memo(function KindPanel({
  counts,
  state,
}: {
  counts: Record<string, number> | null
  state: SheetState
}) {
  const condition = state.where.find(each => each.column === 'kind' && each.op === 'is')
  const chosen = condition?.op === 'is' ? condition.value : []
  const toggle = (kind: string) => {
    const next = chosen.includes(kind) ? chosen.filter(each => each !== kind) : [...chosen, kind]
    const rest = state.where.filter(each => each !== condition)
    state.setWhere(next.length ? [...rest, { column: 'kind', op: 'is', value: next }] : rest)
  }
  return (
    <section>
      <h2>Kind</h2>
      {Object.entries(kindLabels).map(([kind, label]) => (
        <button
          key={kind}
          type="button"
          className="rail-row"
          aria-pressed={chosen.includes(kind)}
          onClick={() => toggle(kind)}
        >
          <span>{label}</span>
          <small>{counts && formatWhole(counts[kind] ?? 0)}</small>
        </button>
      ))}
    </section>
  )
})
