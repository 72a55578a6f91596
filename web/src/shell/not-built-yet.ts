import type { WebFeature } from '../feature.ts'

/** Reports are to come: they have their place and a page that says so. */
export const notBuiltYet: WebFeature = {
  routes: [{ path: 'reports', load: () => import('./PlainPage.tsx') }],
  destinations: [{ on: 'side', path: 'reports', label: 'Reports', order: 14 }],
}
