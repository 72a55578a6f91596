import type { Market, Site } from '@dew-trail/contract/sites'
import { createContext, type ReactNode, useContext, useMemo } from 'react'
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
  /** A page of the own site that is looked at. */
  page?: { address: string; title: string | null } | undefined
}

/** What a feature does with keywords; every sheet of keywords offers it. */
export type KeywordAction = {
  name: string
  label: string
  /** The key that does it to the row or the selected rows; unique among all. */
  key?: string
  /** For selected rows: in sight, or under "More". */
  place: 'foot' | 'more'
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
} {
  const actions = useContext(keywordActionsContext)
  const { site, market, keywords } = useSite()
  const act = useAct()
  const show = useShowDialog()
  return useMemo(() => {
    const tools = { site, market, keywords, act, show }
    return {
      actions,
      run: (name, ids, details = {}) => {
        const action = actions.find(each => each.name === name)
        if (!action) throw new Error(`No action "${name}" is registered`)
        void action.run(ids, tools, details)
      },
    }
  }, [actions, site, market, keywords, act, show])
}
