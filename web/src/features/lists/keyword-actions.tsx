import { lazy } from 'react'
import type { KeywordAction } from '../../keywords/keyword-actions.ts'

const PutOnListDialog = lazy(() => import('./PutOnListDialog.tsx'))

export const listActions: KeywordAction[] = [
  {
    name: 'list',
    label: 'List or label',
    key: 'l',
    shownIn: 'foot',
    run: (ids, { show }) => show(close => <PutOnListDialog ids={ids} onClose={close} />),
  },
]
