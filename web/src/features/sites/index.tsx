import { lazy } from 'react'
import type { WebFeature } from '../../feature.ts'

const SiteDialog = lazy(() => import('./SiteDialog.tsx'))

export const sitesFeature: WebFeature = {
  palette: [
    {
      label: 'Site and markets: add, rename, pause, remove',
      run: ({ show }) => show(close => <SiteDialog onClose={close} />),
    },
  ],
}
