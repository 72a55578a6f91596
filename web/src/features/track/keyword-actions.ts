import { trackKeywords } from '@dew-trail/contract/track'
import { createElement, lazy } from 'react'
import { call } from '../../api/call.ts'
import type { KeywordAction } from '../../keywords/keyword-actions.ts'
import { plural } from '../../ui/format.ts'

const NotesDialog = lazy(() => import('./NotesDialog.tsx'))

export const trackActions: KeywordAction[] = [
  {
    name: 'track',
    label: 'Track',
    key: 't',
    shownIn: 'foot',
    labelFor: row => (row.tracked ? null : 'Track'),
    run: (ids, { site, act }) =>
      act(async () => {
        const { changed, actId } = await call(trackKeywords, { siteId: site.id, keywordIds: ids, tracked: true })
        return changed.length
          ? { say: `${plural(changed.length, 'keyword')} sent to tracking`, actId }
          : { say: 'Already tracked' }
      }),
  },
  {
    name: 'note',
    label: 'Add a note',
    shownIn: 'more',
    most: 1,
    labelFor: () => 'Add a note',
    run: async ([id], { keywords, show }) => {
      const [row] = await keywords.rows([id!])
      const keyword = { id: id!, phrase: String(row?.phrase ?? '') }
      show(close => createElement(NotesDialog, { keyword, onClose: close }))
    },
  },
]
