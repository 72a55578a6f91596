import { mostGrouped } from '@dew-trail/contract/group'
import { lazy } from 'react'
import type { KeywordAction } from '../../keywords/keyword-actions.ts'

const GroupDialog = lazy(() => import('./GroupDialog.tsx'))

export const groupActions: KeywordAction[] = [
  {
    name: 'group',
    label: 'Group into themes',
    shownIn: 'more',
    most: mostGrouped,
    labelFor: () => null,
    run: (ids, { show }) => show(close => <GroupDialog ids={ids} onClose={close} />),
  },
]
