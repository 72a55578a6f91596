import { plural } from '../ui/format.ts'
import type { WebFeature } from '../feature.ts'

/** Parts that are to come: each has its place and a page that says so. */
export const notBuiltYet: WebFeature = {
  routes: ['group', 'places', 'reports'].map(path => ({
    path,
    load: () => import('./PlainPage.tsx'),
  })),
  destinations: [
    { on: 'trail', path: 'group', label: 'Group', order: 3, count: ({ themes }) => plural(themes, 'theme') },
    { on: 'side', path: 'places', label: 'Places', order: 13 },
    { on: 'side', path: 'reports', label: 'Reports', order: 14 },
  ],
}
