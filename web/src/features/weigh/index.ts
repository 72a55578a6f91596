import type { WebFeature } from '../../feature.ts'
import { formatWhole } from '../../ui/format.ts'
import { weighActions, weighKeywords } from './keyword-actions.ts'

export const weighFeature: WebFeature = {
  routes: [
    { path: 'weigh', load: () => import('./WeighScreen.tsx') },
    { path: 'weigh/page/:keywordId', load: () => import('./FirstPageScreen.tsx') },
    { path: 'weigh/strengths', load: () => import('./StrengthsScreen.tsx') },
  ],
  destinations: [
    {
      on: 'trail',
      path: 'weigh',
      label: 'Weigh',
      order: 2,
      count: ({ weighed, kept }) => `${formatWhole(weighed)} of ${formatWhole(kept)} kept`,
    },
  ],
  palette: [
    { label: 'What ranks', path: 'weigh/strengths' },
    { label: 'Weigh all kept keywords', run: tools => void weighKeywords(tools) },
  ],
  keywordActions: weighActions,
  help: () => import('./help.ts'),
}
