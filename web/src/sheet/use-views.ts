import type { ViewState } from '@dew-trail/contract/views'
import { conditionText, readCondition, readSort, sortText } from '@dew-trail/core/tables/condition-text'
import type { SheetColumn } from './columns.ts'
import type { ColumnTable } from './use-column-table.ts'
import type { SheetState } from './use-sheet-state.ts'

type Shown = { state: SheetState; table: ColumnTable; columns: readonly SheetColumn[] }

/** What a view holds of a table as it is now, and the table shown by a view. Conditions on `ownColumn` belong to the place, not to a view. */
export function viewsOf(
  { state, table, columns }: Shown,
  ownColumn?: string,
): { current(): ViewState; apply(view: ViewState): void } {
  return {
    current: () => ({
      where: state.where.filter(each => each.column !== ownColumn).map(conditionText),
      sort: sortText(state.sort),
      columns: table.getVisibleLeafColumns().map(column => column.id),
      folded: false,
    }),
    apply(view) {
      state.setWhere([
        ...state.where.filter(each => each.column === ownColumn),
        ...view.where.map(readCondition).filter(each => each !== null),
      ])
      state.setSort(readSort(view.sort))
      // One without columns says what is shown, not how.
      if (!view.columns.length) return
      table.setColumnVisibility(
        Object.fromEntries(
          columns
            .filter(each => !each.conditionOnly)
            .map(each => [each.key, each.fixed || view.columns.includes(each.key)]),
        ),
      )
      table.setColumnOrder(view.columns)
    },
  }
}
