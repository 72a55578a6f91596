import { lazy, Suspense } from 'react'
import { JobLine } from '../../ui/JobLine.tsx'
import { usePageTitle } from '../../ui/ScreenTitle.tsx'
import { TabBar, useTab } from '../../ui/TabBar.tsx'
import { useMe } from '../../ui/use-me.ts'
import { names } from './parts.ts'
import { SitePeople } from './SitePeople.tsx'

const parts = {
  people: SitePeople,
  accounts: lazy(() => import('./AccountsPart.tsx')),
  keys: lazy(() => import('./KeysPart.tsx')),
  hooks: lazy(() => import('./HooksPart.tsx')),
  done: lazy(() => import('./ActivityPart.tsx')),
  you: lazy(() => import('./YouPart.tsx')),
} as const satisfies Record<keyof typeof names, unknown>
/** Who may see what, the ways in for programs, and what was done by whom. */
export default function PeopleScreen() {
  usePageTitle('People')
  const me = useMe()
  const { accounts, you, ...always } = names
  const tabs: Partial<typeof names> = {
    ...always,
    ...(me?.isAdministrator ? { accounts } : {}),
    ...(me?.person ? { you } : {}),
  }
  const see = useTab(tabs as typeof names)
  const Part = parts[see]
  return (
    <main className="screen whole">
      <div className="main">
        <div className="bar">
          <h1 className="people-title">People and ways in</h1>
          <TabBar tabs={tabs as typeof names} see={see} forget={['kind', 'who']} />
        </div>
        <div className="sources people">
          <Suspense fallback={<p className="quiet">Loading</p>}>
            <Part />
          </Suspense>
        </div>
        <div className="foot">
          {me?.signIn === 'none' && (
            <span className="quiet">
              Only this machine reaches the program, so nobody has to sign in. docs/running.md says how to let others
              in.
            </span>
          )}
          <span className="foot-end">
            <JobLine />
          </span>
        </div>
      </div>
    </main>
  )
}
