import { lazy, Suspense } from 'react'
import { createBrowserRouter, Link, useRouteError } from 'react-router'
import GatherScreen from './gather/GatherScreen.tsx'
import { Shell } from './shell/Shell.tsx'

const WeighScreen = lazy(() => import('./weigh/WeighScreen.tsx'))
const StrengthsScreen = lazy(() => import('./weigh/StrengthsScreen.tsx'))
const FirstPageScreen = lazy(() => import('./weigh/FirstPageScreen.tsx'))
const PlanScreen = lazy(() => import('./plan/PlanScreen.tsx'))
const TrackScreen = lazy(() => import('./track/TrackScreen.tsx'))
const SourcesScreen = lazy(() => import('./sources/SourcesScreen.tsx'))
const PlainPage = lazy(() => import('./places/PlainPage.tsx'))
const waiting = <p className="empty quiet">Loading</p>

function Broken() {
  const error = useRouteError()
  return (
    <div className="empty" role="alert">
      <h1>This page broke</h1>
      <p>{error instanceof Error ? error.message : 'There is no such page.'} What you saved is safe.</p>
      <Link className="link" to="/">
        Begin again
      </Link>
    </div>
  )
}

export const router = createBrowserRouter([
  { path: '/', element: <Shell />, errorElement: <Broken /> },
  {
    path: '/:siteId',
    element: <Shell />,
    errorElement: <Broken />,
    children: [
      { index: true, element: <GatherScreen /> },
      { path: 'gather', element: <GatherScreen /> },
      {
        path: 'weigh',
        element: (
          <Suspense fallback={waiting}>
            <WeighScreen />
          </Suspense>
        ),
      },
      {
        path: 'weigh/page/:keywordId',
        element: (
          <Suspense fallback={waiting}>
            <FirstPageScreen />
          </Suspense>
        ),
      },
      {
        path: 'weigh/strengths',
        element: (
          <Suspense fallback={waiting}>
            <StrengthsScreen />
          </Suspense>
        ),
      },
      {
        path: 'plan',
        element: (
          <Suspense fallback={waiting}>
            <PlanScreen />
          </Suspense>
        ),
      },
      {
        path: 'track',
        element: (
          <Suspense fallback={waiting}>
            <TrackScreen />
          </Suspense>
        ),
      },
      {
        path: 'sources',
        element: (
          <Suspense fallback={waiting}>
            <SourcesScreen />
          </Suspense>
        ),
      },
      ...['group', 'rivals', 'links', 'places', 'reports'].map(name => ({
        path: name,
        element: (
          <Suspense fallback={waiting}>
            <PlainPage name={name} />
          </Suspense>
        ),
      })),
    ],
  },
])
