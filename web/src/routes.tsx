import { type ComponentType, lazy, type ReactNode, Suspense } from 'react'
import { createBrowserRouter, Link, useRouteError } from 'react-router'
import type { FeatureRoute } from './feature.ts'
import { features } from './features.ts'
import { Shell } from './shell/Shell.tsx'

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

/** A feature's screen; loaded once however many paths lead to it. */
function screenOf(route: FeatureRoute): ReactNode {
  const Screen: ComponentType = 'screen' in route ? route.screen : lazy(route.load)
  return (
    <Suspense fallback={<p className="empty quiet">Loading</p>}>
      <Screen />
    </Suspense>
  )
}

export const router = createBrowserRouter([
  { path: '/', element: <Shell />, errorElement: <Broken /> },
  {
    path: '/:siteId',
    element: <Shell />,
    errorElement: <Broken />,
    children: features
      .flatMap(feature => feature.routes ?? [])
      .map(route => ({ path: route.path, element: screenOf(route) })),
  },
])
