import type { WebFeature } from '../../feature.ts'

export const placesFeature: WebFeature = {
  routes: [{ path: 'places', load: () => import('./PlacesScreen.tsx') }],
  destinations: [{ on: 'side', path: 'places', label: 'Places', order: 13 }],
  palette: [
    { label: 'Places: who holds the ground', path: 'places?see=strongholds' },
    { label: 'Places: figures of all runs', path: 'places?see=runs' },
    { label: 'Places: doubtful listings', path: 'places?see=doubtful' },
  ],
  help: () => import('./help.ts'),
}
