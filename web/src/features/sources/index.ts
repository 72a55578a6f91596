import type { WebFeature } from '../../feature.ts'

export const sourcesFeature: WebFeature = {
  routes: [{ path: 'sources', load: () => import('./SourcesScreen.tsx') }],
  destinations: [{ on: 'side', path: 'sources', label: 'Sources', order: 15 }],
}
