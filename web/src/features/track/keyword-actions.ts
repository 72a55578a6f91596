import { trackKeywords } from '@dew-trail/contract/track'
import { call } from '../../api/call.ts'
import type { KeywordAction } from '../../keywords/keyword-actions.ts'
import { plural } from '../../ui/format.ts'

export const trackActions: KeywordAction[] = [
  {
    name: 'track',
    label: 'Track',
    key: 't',
    place: 'foot',
    labelFor: row => (row.tracked ? null : 'Track'),
    run: (ids, { site, act }) =>
      act(async () => {
        const { changed, actId } = await call(trackKeywords, { siteId: site.id, keywordIds: ids, tracked: true })
        return changed.length
          ? { say: `${plural(changed.length, 'keyword')} sent to tracking`, actId }
          : { say: 'Already tracked' }
      }),
  },
]
