import { listActs, undoAct } from '@dew-trail/contract/acts'
import { lazy } from 'react'
import { call } from '../../api/call.ts'
import type { ActionTools } from '../../keywords/keyword-actions.ts'
import type { Act } from '../../ui/use-act.ts'

const ActsDialog = lazy(() => import('./ActsDialog.tsx'))

export const showActs = (show: ActionTools['show']): void => show(close => <ActsDialog onClose={close} />)

/** Undoes the latest act of the site that is not undone yet. */
export const undoLast = (siteId: number, act: Act): Promise<void> =>
  act(async () => {
    const last = (await call(listActs, { siteId })).find(each => each.undoneAt === null)
    if (!last) return { say: 'There is nothing to undo' }
    await call(undoAct, { siteId, actId: last.id })
    return { say: `Undone: ${last.title}` }
  })
