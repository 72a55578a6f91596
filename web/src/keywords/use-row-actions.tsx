import { type ReactNode, useMemo } from 'react'
import type { Row } from '../rows/row-source.ts'
import type { RowMenuItem } from '../sheet/RowMenu.tsx'
import type { Selection } from '../sheet/use-selection.ts'
import { useLivePage } from '../ui/live-page.ts'
import { useSite } from '../ui/site-context.ts'
import { type ActionDetails, useKeywordActions } from './keyword-actions.ts'

type Take = Selection['take']
/** What features do with keywords, for a sheet whose rows are keywords: by key, in the menu of a row, and in the foot for a selection. */
export type RowActions = {
  keys(take: Take): Record<string, (id: number | null) => void>
  menu(row: Row): RowMenuItem[]
  foot(take: Take): ReactNode
  /** Those that are wanted less often, for a selection of so many. */
  more(take: Take, count: number): Array<{ label: string; run?: (() => void) | undefined }>
}

const noDetails: ActionDetails = {}
export function useRowActions(details: ActionDetails = noDetails): RowActions {
  const { market } = useSite()
  const { actions, run, runOn } = useKeywordActions()
  const live = useLivePage(market)
  return useMemo(() => {
    const onSelection = async (name: string, take: Take) => runOn(name, await take(), details)
    return {
      keys: take =>
        Object.fromEntries(
          actions.flatMap(({ key, name }) =>
            key
              ? [[key, (id: number | null) => (id === null ? void onSelection(name, take) : run(name, [id], details))]]
              : [],
          ),
        ),
      menu: row => {
        const page = live?.(String(row.phrase))
        return [
          ...actions.flatMap(({ name, key, label, labelFor }) => {
            const text = labelFor ? labelFor(row) : label
            return text === null
              ? []
              : [{ label: text, key: key?.toUpperCase(), run: () => run(name, [row.id], details) }]
          }),
          ...(page
            ? [
                {
                  label: `See it live on ${page.engine}`,
                  run: () => void window.open(page.address, '_blank', 'noreferrer'),
                },
              ]
            : []),
        ]
      },
      foot: take =>
        actions
          .filter(each => each.shownIn === 'foot')
          .map(each => (
            <button key={each.name} type="button" className="link" onClick={() => void onSelection(each.name, take)}>
              {each.label}
            </button>
          )),
      more: (take, count) =>
        actions
          .filter(each => each.shownIn === 'more')
          .map(({ name, label, most = Number.POSITIVE_INFINITY }) => ({
            label: Number.isFinite(most) ? `${label} (up to ${most})` : label,
            run: count <= most ? () => void onSelection(name, take) : undefined,
          })),
    }
  }, [actions, run, runOn, details, live])
}
