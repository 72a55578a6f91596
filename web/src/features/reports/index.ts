import { createElement, lazy } from 'react'
import type { WebFeature } from '../../feature.ts'

const PutShown = lazy(() => import('../../report-pieces/PutShown.tsx'))

export const reportsFeature: WebFeature = {
  routes: [{ path: 'reports', load: () => import('./ReportsScreen.tsx') }],
  destinations: [{ on: 'side', path: 'reports', label: 'Reports', order: 14 }],
  palette: [
    { label: 'Reports: make a new one', path: 'reports?new=open' },
    {
      label: 'Put what is shown into a report',
      run: ({ show }) => show(close => createElement(PutShown, { onClose: close })),
    },
  ],
  help: () => import('./help.ts'),
}
