import type { WebFeature } from '../feature.ts'

/** Parts that are to come: each has its place and a page that says so. */
export const notBuiltYet: WebFeature = {
  routes: ['reports'].map(path => ({
    path,
    load: () => import('./PlainPage.tsx'),
  })),
  destinations: [{ on: 'side', path: 'reports', label: 'Reports', order: 14 }],
}
