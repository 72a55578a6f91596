import type { WebFeature } from '../../feature.ts'
import { plural } from '../../ui/format.ts'
import { groupActions } from './keyword-actions.tsx'

export const groupFeature: WebFeature = {
  routes: [{ path: 'group', load: () => import('./GroupScreen.tsx') }],
  destinations: [
    { on: 'trail', path: 'group', label: 'Group', order: 3, count: ({ themes }) => plural(themes, 'theme') },
  ],
  palette: [
    { label: 'Group: keywords in no theme', path: 'group?see=keywords&where=state:is:alone|unknown' },
    { label: 'Group: your pages that compete', path: 'group?see=competing' },
    { label: 'Group: check a grouping', path: 'group?see=check' },
  ],
  keywordActions: groupActions,
  help: () => import('./help.ts'),
}
