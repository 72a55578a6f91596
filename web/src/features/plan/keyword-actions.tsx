import { lazy } from 'react'
import type { KeywordAction } from '../../keywords/keyword-actions.ts'

const PlanDialog = lazy(() => import('./PlanDialog.tsx'))

export const planActions: KeywordAction[] = [
  {
    name: 'plan',
    label: 'Put on a page',
    key: 'p',
    shownIn: 'foot',
    run: (ids, { show }, { page }) => show(close => <PlanDialog keywordIds={ids} page={page} onClose={close} />),
  },
]
