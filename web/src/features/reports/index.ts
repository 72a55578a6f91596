import type { WebFeature } from '../../feature.ts'

export const reportsFeature: WebFeature = {
  routes: [{ path: 'reports', load: () => import('./ReportsScreen.tsx') }],
  destinations: [{ on: 'side', path: 'reports', label: 'Reports', order: 14 }],
  palette: [{ label: 'Reports: make a new one', path: 'reports?new=open' }],
}
