import type { WebFeature } from '../../feature.ts'

export const peopleFeature: WebFeature = {
  routes: [{ path: 'people', load: () => import('./PeopleScreen.tsx') }],
  palette: [
    { label: 'People: who may see this site', path: 'people' },
    { label: 'Access keys for programs', path: 'people?see=keys' },
    { label: 'Web hooks', path: 'people?see=hooks' },
    { label: 'What was done, and by whom', path: 'people?see=done' },
  ],
  help: () => import('./help.ts'),
}
