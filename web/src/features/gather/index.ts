import type { WebFeature } from '../../feature.ts'
import { formatWhole } from '../../ui/format.ts'
import GatherScreen from './GatherScreen.tsx'
import { gatherActions } from './keyword-actions.tsx'

export const gatherFeature: WebFeature = {
  routes: [
    { path: '', screen: GatherScreen },
    { path: 'gather', screen: GatherScreen },
  ],
  destinations: [
    { on: 'trail', path: 'gather', label: 'Gather', order: 1, count: ({ found }) => `${formatWhole(found)} found` },
  ],
  palette: [{ label: 'Import keywords from a file', path: 'gather?import=keywords' }],
  keywordActions: gatherActions,
  help: () => import('./help.ts'),
}
