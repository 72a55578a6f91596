import type { WebFeature } from '../../feature.ts'
import { plural } from '../../ui/format.ts'
import { planActions } from './keyword-actions.tsx'

export const planFeature: WebFeature = {
  routes: [{ path: 'plan', load: () => import('./PlanScreen.tsx') }],
  destinations: [{ on: 'trail', path: 'plan', label: 'Plan', order: 4, count: ({ pages }) => plural(pages, 'page') }],
  keywordActions: planActions,
}
