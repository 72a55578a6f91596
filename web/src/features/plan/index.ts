import type { WebFeature } from '../../feature.ts'
import { plural } from '../../ui/format.ts'
import { planActions } from './keyword-actions.tsx'

export const planFeature: WebFeature = {
  routes: [{ path: 'plan', load: () => import('./PlanScreen.tsx') }],
  destinations: [{ on: 'trail', path: 'plan', label: 'Plan', order: 4, count: ({ pages }) => plural(pages, 'page') }],
  palette: [
    { label: 'Plan: list of planned pages', path: 'plan?see=list' },
    { label: 'Plan: board', path: 'plan?see=board' },
    { label: 'Plan: calendar', path: 'plan?see=calendar' },
    { label: 'Plan: what to make first', path: 'plan?see=first' },
    { label: 'Plan: pages that no own page links to', path: 'plan?flag=noLinks' },
  ],
  keywordActions: planActions,
  help: () => import('./help.ts'),
}
