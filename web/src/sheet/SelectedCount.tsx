import { formatWhole } from '../ui/format.ts'
import type { Selection } from './use-selection.ts'

/** How many rows are selected, and how many of them conditions hide: those are left out of what is done. */
export function SelectedCount({ selected, hidden }: Pick<Selection, 'selected' | 'hidden'>) {
  return (
    <span>
      <b>{formatWhole(selected.size)}</b> selected
      {hidden > 0 && (
        <span className="fall" title="What is done with the selection leaves them out">
          , {formatWhole(hidden)} of them hidden by conditions
        </span>
      )}
    </span>
  )
}
