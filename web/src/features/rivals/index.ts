import type { WebFeature } from '../../feature.ts'

export const rivalsFeature: WebFeature = {
  routes: [{ path: 'rivals', load: () => import('./RivalsScreen.tsx') }],
  destinations: [{ on: 'side', path: 'rivals', label: 'Rivals', order: 11 }],
  palette: [
    { label: 'Rivals: who they are', path: 'rivals?see=who' },
    { label: 'Rivals: overlap of keywords', path: 'rivals?see=overlap' },
  ],
  help: () => import('./help.ts'),
}
