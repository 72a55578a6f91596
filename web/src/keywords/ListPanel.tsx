import type { KeywordList, ListKind } from '@dew-trail/contract/lists'
import type { Condition } from '@dew-trail/core/tables/column-spec'
import { lazy, memo, Suspense, useState } from 'react'
import { formatWhole } from '../ui/format.ts'
import type { SheetState } from '../sheet/use-sheet-state.ts'
import { useLists } from './use-lists.ts'

const ListsDialog = lazy(() => import('./ListsDialog.tsx').then(module => ({ default: module.ListsDialog })))

const titles: Record<ListKind, string> = { shortlist: 'Shortlists', label: 'Labels' }
/** By what rows are shown: shortlists by their ids, labels by the names that stand in the rows. */
const columnOf: Record<ListKind, string> = { shortlist: 'lists', label: 'labels' }
const valueIn = (list: KeywordList): string => (list.kind === 'label' ? list.name : String(list.id))

/** Shortlists or labels with their counts; a click shows one. Nothing is drawn while there is none. */
export const ListPanel = memo(function ListPanel({ state, kind }: { state: SheetState; kind: ListKind }) {
  const { lists } = useLists(kind)
  const [changing, setChanging] = useState(false)
  if (!lists.length) return null
  const column = columnOf[kind]
  const condition = state.where.find(each => each.column === column && each.op === 'any')
  const chosen = condition?.op === 'any' ? condition.value[0] : undefined
  const show = (value: string) => {
    const rest: Condition[] = state.where.filter(each => each !== condition)
    state.setWhere(chosen === value ? rest : [...rest, { column, op: 'any', value: [value] }])
  }
  return (
    <section>
      <h2 style={{ display: 'flex', justifyContent: 'space-between' }}>
        {titles[kind]}
        <button type="button" className="link" onClick={() => setChanging(true)} aria-label={`Change ${titles[kind]}`}>
          Change
        </button>
      </h2>
      {lists.map(list => (
        <button
          key={list.id}
          type="button"
          className="rail-row"
          aria-pressed={chosen === valueIn(list)}
          onClick={() => show(valueIn(list))}
        >
          <span>{list.name}</span>
          <small>{formatWhole(list.keywords)}</small>
        </button>
      ))}
      <Suspense fallback={null}>
        {changing && <ListsDialog kind={kind} title={titles[kind]} onClose={() => setChanging(false)} />}
      </Suspense>
    </section>
  )
})
