import type { WebFeature } from '../../feature.ts'

export const sourcesFeature: WebFeature = {
  routes: [{ path: 'sources', load: () => import('./SourcesScreen.tsx') }],
  palette: [
    { label: 'Sources: keys, limits, failures', path: 'sources' },
    { label: 'Backups, space, how long data is kept', path: 'sources' },
  ],
  destinations: [{ on: 'side', path: 'sources', label: 'Sources', order: 15 }],
  help: () => import('./help.ts'),
}
