import type { ViewState } from '@dew-trail/contract/views'
import { conditionText, readCondition, readSort, sortText } from '@dew-trail/core/tables/condition-text'
import type { SheetColumn } from './columns.ts'
import type { ColumnTable } from './use-column-table.ts'
import type { SheetState } from './use-sheet-state.ts'

type Shown = {
  name: string
  state: SheetState
  table: ColumnTable
  columns: readonly SheetColumn[]
  /** Whether forms of a keyword are folded, where a table can do that. */
  fold?: { on: boolean; set(on: boolean): void }
}
type Columns = { order: string[]; shown: Record<string, boolean>; folded: boolean }

const beforeKey = (name: string): string => `sheet-before-view:${name}`
/** The columns that were there before a view set its own; null where none did. */
function columnsBefore(name: string): Columns | null {
  try {
    return JSON.parse(sessionStorage.getItem(beforeKey(name)) ?? 'null') as Columns | null
  } catch {
    return null
  }
}

/**
 * What a view holds of a table as it is now, and the table shown by a view. Conditions on `ownColumn` belong to the place, not to a view. A
 * view with columns sets them and what is folded; one without, and `giveBack`, bring back those that were there before (null where no view set any).
 */
export function viewsOf(
  { name, state, table, columns, fold }: Shown,
  ownColumn?: string,
): { current(): ViewState; apply(view: ViewState): void; giveBack: (() => void) | null } {
  const before = columnsBefore(name)
  const giveBack = (): void => {
    if (!before) return
    table.setColumnVisibility(before.shown)
    table.setColumnOrder(before.order)
    fold?.set(before.folded)
    sessionStorage.removeItem(beforeKey(name))
  }
  return {
    giveBack: before && giveBack,
    current: () => ({
      where: state.where.filter(each => each.column !== ownColumn).map(conditionText),
      sort: sortText(state.sort),
      columns: table.getVisibleLeafColumns().map(column => column.id),
      folded: fold?.on ?? false,
    }),
    apply(view) {
      state.setWhere([
        ...state.where.filter(each => each.column === ownColumn),
        ...view.where.map(readCondition).filter(each => each !== null),
      ])
      state.setSort(readSort(view.sort))
      // One without columns says what is shown, not how.
      if (!view.columns.length) {
        giveBack()
        return
      }
      if (!before) {
        const { columnOrder: order, columnVisibility: shown } = table.state
        const now: Columns = { order, shown, folded: fold?.on ?? false }
        sessionStorage.setItem(beforeKey(name), JSON.stringify(now))
      }
      table.setColumnVisibility(
        Object.fromEntries(
          columns
            .filter(each => !each.conditionOnly)
            .map(each => [each.key, each.fixed || view.columns.includes(each.key)]),
        ),
      )
      table.setColumnOrder(view.columns)
      fold?.set(view.folded)
    },
  }
}
