import type { WebFeature } from '../../feature.ts'

export const linksFeature: WebFeature = {
  routes: [{ path: 'links', load: () => import('./LinksScreen.tsx') }],
  destinations: [{ on: 'side', path: 'links', label: 'Links', order: 12 }],
  palette: [
    { label: 'Links: linking sites', path: 'links?see=sites' },
    { label: 'Links: who links to several sites', path: 'links?see=several' },
    { label: 'Links: suspicious links', path: 'links?see=suspicious' },
    { label: 'Links: prospects', path: 'links?see=prospects' },
    { label: 'Links: ranking of sites', path: 'links?see=ranking' },
  ],
  help: () => import('./help.ts'),
}
