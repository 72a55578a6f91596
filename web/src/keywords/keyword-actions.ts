import type { Market, Site } from '@dew-trail/contract/sites'
import { createContext, type ReactNode, useContext, useMemo } from 'react'
import { plural } from '../ui/format.ts'
import type { Row } from '../rows/row-source.ts'
import type { WorkerSource } from '../rows/worker-source.ts'
import { useShowDialog } from '../ui/DialogHost.tsx'
import { useSite } from '../ui/site-context.ts'
import { type Act, useAct } from '../ui/use-act.ts'

/** What an action on keywords may use. */
export type ActionTools = {
  site: Site
  market: Market
  keywords: WorkerSource
  act: Act
  show(dialog: (close: () => void) => ReactNode): void
}
/** What is known where an action is chosen, besides the keywords. */
export type ActionDetails = {
  /** The gathering that is looked at. */
  parentId?: number | undefined
  /** Makes keywords of the site out of ids of rows that may be none yet, such as those that a feed told of. */
  resolve?: (ids: number[]) => Promise<number[]>
  /** A page of the own site that is looked at. */
  page?: { address: string; title: string | null } | undefined
}

/** A selection that an action is run on: rows that it left out since conditions hide them, and how to select them all again. */
export type Taken = { ids: number[]; leftOut: number; restore(): void }

/** What a feature does with keywords; every sheet of keywords offers it. */
export type KeywordAction = {
  name: string
  label: string
  /** The key that does it to the row or the selected rows; unique among all. */
  key?: string
  /** For selected rows: in sight, or under "More". */
  shownIn: 'foot' | 'more'
  /** Most keywords it takes at once. */
  most?: number
  /** What it is called for one unfolded row; null where it makes no sense for that row. The label by default. */
  labelFor?(row: Row): string | null
  run(ids: number[], tools: ActionTools, details: ActionDetails): Promise<void> | void
}

/** All registered actions, in the order in which they are offered. */
export const keywordActionsContext = createContext<readonly KeywordAction[]>([])

/** The actions, and what runs one of them by its name. */
export function useKeywordActions(): {
  actions: readonly KeywordAction[]
  run(name: string, ids: number[], details?: ActionDetails): void
  /** The same for a selection; what is said tells of rows that were left out, and undo selects them again. */
  runOn(name: string, taken: Taken, details?: ActionDetails): void
} {
  const actions = useContext(keywordActionsContext)
  const { site, market, keywords } = useSite()
  const act = useAct()
  const show = useShowDialog()
  return useMemo(() => {
    const tools = { site, market, keywords, act, show }
    const start = (name: string, ids: number[], withTools: ActionTools, details: ActionDetails) => {
      const action = actions.find(each => each.name === name)
      if (!action) throw new Error(`No action "${name}" is registered`)
      const { resolve } = details
      if (!resolve) {
        void action.run(ids, withTools, details)
        return
      }
      resolve(ids).then(
        real => action.run(real, withTools, details),
        error => act(() => Promise.reject(error)),
      )
    }
    return {
      actions,
      run: (name, ids, details = {}) => start(name, ids, tools, details),
      runOn: (name, { ids, leftOut, restore }, details = {}) => {
        const left = leftOut ? `${plural(leftOut, 'selected row')} that conditions hide left out` : ''
        if (!ids.length) {
          void act(async () => ({ say: `Nothing was done: ${left}` }))
          restore()
          return
        }
        const actOnSelection: Act = work =>
          act(async () => {
            const outcome = await work()
            return { ...outcome, say: [outcome?.say, left].filter(Boolean).join('; '), onUndone: restore }
          })
        start(name, ids, { ...tools, act: actOnSelection }, details)
      },
    }
  }, [actions, site, market, keywords, act, show])
}
