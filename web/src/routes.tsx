import { Component, type ComponentType, lazy, type ReactNode, Suspense } from 'react'
import { BrowserRouter, Link, Route, Routes, useLocation } from 'react-router'
import type { FeatureRoute } from './feature.ts'
import { features } from './features.ts'
import { Shell } from './shell/Shell.tsx'
import { later } from './ui/later.tsx'

/** Shows what went wrong in place of a page that broke, until another page is opened. */
class Guard extends Component<{ page: string; children: ReactNode }, { error: Error | null; page: string }> {
  override state = { error: null, page: this.props.page }
  static getDerivedStateFromError(error: Error) {
    return { error }
  }
  static getDerivedStateFromProps({ page }: { page: string }, state: { page: string }) {
    return page === state.page ? null : { error: null, page }
  }
  override render() {
    return this.state.error ? (
      <Broken title="This page broke" says={`${(this.state.error as Error).message} What you saved is safe.`} />
    ) : (
      this.props.children
    )
  }
}

function Broken({ title, says }: { title: string; says: string }) {
  return (
    <div className="empty" role="alert">
      <h1>{title}</h1>
      <p>{says}</p>
      <Link className="link" to="/">
        Begin again
      </Link>
    </div>
  )
}

/** A feature's screen; loaded once however many paths lead to it. */
function screenOf(route: FeatureRoute): ReactNode {
  const Screen: ComponentType =
    'screen' in route
      ? route.screen
      : later(route.load, module => module.default, <p className="empty quiet">Loading</p>)
  // Of its own key: two paths of one screen are two screens.
  return <Screen key={route.path} />
}

const Invitation = lazy(() => import('./shell/Invitation.tsx'))

const screens = features
  .flatMap(feature => feature.routes ?? [])
  .map(route => <Route key={route.path} path={route.path} element={screenOf(route)} />)

function Pages() {
  const { pathname } = useLocation()
  return (
    <Guard page={pathname}>
      <Routes>
        <Route path="/" element={<Shell />} />
        <Route
          path="/invitation/:token"
          element={
            <Suspense fallback={null}>
              <Invitation />
            </Suspense>
          }
        />
        <Route path="/:siteId" element={<Shell />}>
          {screens}
        </Route>
        <Route
          path="*"
          element={
            <Broken
              title="There is no such page"
              says="The address leads nowhere; it may be mistyped or of an older version."
            />
          }
        />
      </Routes>
    </Guard>
  )
}

// Without transitions: what is left is gone at once, so that an address change it still meant to make cannot lead back to it.
export const router = (
  <BrowserRouter useTransitions={false}>
    <Pages />
  </BrowserRouter>
)
